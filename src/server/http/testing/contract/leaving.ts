import type { Asking, There } from './asking';

/** People and groups that go, once nothing else needs them. */
export async function askWhatGoes({ call }: Asking, { list, tag, segment, ana, bo, cy, junior }: There) {
  await call('post', '/api/people/:id/opt-out', { params: { id: cy }, body: { words: '' } });
  await call('post', '/api/people/:id/merge', { params: { id: ana }, body: { other_id: bo } });
  await call('delete', '/api/people/:id', { params: { id: cy } });
  await call('delete', '/api/dependants/:id', { params: { id: junior } });
  await call('delete', '/api/segments/:id', { params: { id: segment } });
  await call('delete', '/api/lists/:id', { params: { id: list } });
  await call('delete', '/api/tags/:id', { params: { id: tag } });
  await call('delete', '/api/fields/:about/:slug', { params: { about: 'person', slug: 'home_landing' } });
}
