import { expect } from 'vitest';
import type { Asking } from './asking';

/** A file, from the bench to its end, and another that is given up. */
export async function askFiles({ call }: Asking) {
  const csv = 'First name,Mobile\nDao,+1 207 555 0150\nEve,7\n';
  const { id: file } = await call<{ id: number }>('post', '/api/imports/file', { query: { name: 'a.csv' }, raw: csv });
  const checked = async (id: number) => {
    for (;;) {
      const staged = await call<{ state: string; at_row: number; version: number; settings: unknown }>(
        'get',
        '/api/imports/:id',
        { params: { id } },
      );
      if (staged.state !== 'reading' && staged.state !== 'writing' && staged.state !== 'undoing' && staged.at_row === 0)
        return staged;
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
  };
  const staged = await checked(file);
  await call('get', '/api/imports/:id/rows', { params: { id: file } });
  await call('put', '/api/imports/:id/settings', { params: { id: file }, body: staged.settings });
  await call('put', '/api/imports/:id/cell', { params: { id: file }, body: { row: 1, column: 1, text: 'Jo' } });
  await call('put', '/api/imports/:id/source', { params: { id: file }, body: { delimiter: ',' } });
  const again = await checked(file);
  for (const ending of ['csv', 'xlsx']) {
    await call('get', `/api/imports/:id/rejects.${ending}`, { params: { id: file } });
    await call('get', `/api/imports/starter.${ending}`);
  }
  await call('post', '/api/imports/:id/decide', { params: { id: file }, body: { version: again.version } });
  expect((await checked(file)).state).toBe('done');
  await call('get', '/api/imports');
  await call('post', '/api/imports/:id/undo', { params: { id: file } });
  expect((await checked(file)).state).toBe('undone');
  await call('get', '/api/imports/:id/kept', { params: { id: file } });
  const { id: pasted } = await call<{ id: number }>('post', '/api/imports/text', { raw: 'Mobile\n+1 207 555 0151\n' });
  await checked(pasted);
  await call('post', '/api/imports/:id/use-once', { params: { id: pasted } });
  const { id: unwanted } = await call<{ id: number }>('post', '/api/imports/text', { raw: 'Mobile\n+1 207 555 0152\n' });
  await checked(unwanted);
  await call('delete', '/api/imports/:id', { params: { id: unwanted } });
}
