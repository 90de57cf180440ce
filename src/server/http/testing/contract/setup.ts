import type { Asking } from './asking';

/** Money, senders and settings. */
export async function askSetup({ call, desk }: Asking) {
  const { workspace } = await call<{ workspace: Record<string, unknown> }>('get', '/api/setup');
  const { public_address: _own, ...settings } = workspace;
  void _own;
  await call('put', '/api/setup/workspace', { body: { ...settings, name: 'Ottermere', hours: '24' } });
  await call('put', '/api/setup/public-address', {
    body: { address: 'https://bell.ottermere.example', here: 'https://bell.ottermere.example' },
  });
  const { address } = await call<{ address: string }>('post', '/api/setup/public-address/try');
  await call('get', '/try/:token', { params: { token: address.split('/').at(-1) ?? '' } });
  await call('put', '/api/setup/carrier', {
    body: {
      alphabet: 'latin1',
      receipt_ids: 'same',
      at_once: 'any',
      strangers_a_day_micro: 1_000_000,
      tests_a_day: 100,
      tests_a_day_micro: 10_000_000,
    },
  });
  await desk.app.db.query(
    `INSERT INTO job (kind, key, due_at, attempts, trouble, passing, failing_since) VALUES ('clean lists', '1', '2099-01-01', 5, 'no room', false, '2026-01-01')`,
  );
  await call('get', '/api/jobs');
  await call('post', '/api/jobs/again', { body: { kind: 'clean lists', key: '1' } });
  const { id: spare } = await call<{ id: number }>('post', '/api/setup/senders', {
    body: { name: 'Spare', kind: 'short', address: '72399', parts_per_second: 20 },
  });
  await call('put', '/api/setup/senders/:id', { params: { id: spare }, body: { name: 'Spare desk', parts_per_second: 10 } });
  await call('delete', '/api/setup/senders/:id', { params: { id: spare } });
  await call('put', '/api/setup/rates', {
    body: {
      rates: [
        { prefix: '+1', destination: 'North America', price_micro: 7500 },
        { prefix: '+44', destination: 'United Kingdom', price_micro: 31_000 },
      ],
    },
  });
  await call('delete', '/api/setup/rates/:prefix', { params: { prefix: '+44' } });
  await call('post', '/api/setup/balance', { body: { amount_micro: 50_000_000 } });
  await call('get', '/api/setup/balance');
  await call('get', '/api/people/lookup');
  await call('post', '/api/people/lookup', { body: { filter: {}, agreed: 10 } });
  await call('get', '/api/setup/record');
}
