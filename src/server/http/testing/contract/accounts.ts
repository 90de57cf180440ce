import { hashPassword } from '../../passwords';
import type { Asking } from './asking';

/** Accounts, sessions and how tables look to them. */
export async function askAccounts({ call, desk }: Asking) {
  await call('get', '/api/session');
  await call('get', '/api/session/layouts');
  await call('put', '/api/session/layouts/:table', {
    params: { table: 'people' },
    body: { hidden: ['zone'], order: ['name'], widths: { name: 120 } },
  });
  await call('get', '/api/session/layouts');
  const { path: invitation } = await call<{ path: string }>('post', '/api/setup/invitations', { body: { role: 'write' } });
  await call('post', '/api/invitation', {
    as: undefined,
    body: { token: invitation.split('/')[2], name: 'Noor', email: 'noor@ottermere.example', password: 'heron and kittiwake' },
  });
  await call('post', '/api/sign-in', {
    as: undefined,
    body: { email: 'noor@ottermere.example', password: 'heron and kittiwake' },
  });
  const { accounts } = await call<{ accounts: { id: number; email: string }[] }>('get', '/api/setup');
  const noor = accounts.find((each) => each.email === 'noor@ottermere.example')?.id ?? 0;
  await call('put', '/api/accounts/:id', { params: { id: noor }, body: { role: 'send' } });
  const { path: reset } = await call<{ path: string }>('post', '/api/accounts/:id/reset', { params: { id: noor } });
  await call('post', '/api/reset', { as: undefined, body: { token: reset.split('/')[2], password: 'pike and otter again' } });
  await call('delete', '/api/accounts/:id', { params: { id: noor } });
  await desk.app.db.query(`UPDATE account SET password_hash = $1 WHERE role = 'manage'`, [
    await hashPassword('heron and kittiwake'),
  ]);
  await call('put', '/api/session/password', { body: { old: 'heron and kittiwake', password: 'a longer one than before' } });
  await call('post', '/api/session/end-others');
  await call('post', '/api/sign-out', { as: 'write' });
}
