import type { Asking, There } from './asking';

/** People, groups, dependants, segments and files of them; gives what the others are about. */
export async function askPeople({ call }: Asking): Promise<There> {
  const { id: list } = await call<{ id: number }>('post', '/api/lists', { body: { name: 'Crew' } });
  const { id: tag } = await call<{ id: number }>('post', '/api/tags', { body: { name: 'bicycle' } });
  await call('put', '/api/lists/:id', { params: { id: list }, body: { name: 'Crew and staff' } });
  await call('put', '/api/tags/:id', { params: { id: tag }, body: { name: 'dog aboard' } });
  await call('post', '/api/fields', { body: { label: 'Home landing', type: 'choice', choices: ['Mill Quay'] } });
  await call('post', '/api/fields', { body: { label: 'Class', type: 'text', about: 'dependant' } });
  await call('put', '/api/fields/:about/:slug', {
    params: { about: 'person', slug: 'home_landing' },
    body: { label: 'Landing', choices: ['Mill Quay', 'Pine Point'] },
  });
  await call('put', '/api/field-order/:about', { params: { about: 'person' }, body: { slugs: ['home_landing'] } });
  const person = (given_name: string, number: string) => ({
    given_name,
    family_name: 'Aalto',
    number,
    reference: `P-${number.slice(-4)}`,
    language: 'en',
    zone: 'America/New_York',
    fields: { home_landing: 'Mill Quay' },
  });
  const { id: ana } = await call<{ id: number }>('post', '/api/people', { body: person('Ana', '+1 207 555 0142') });
  const { id: bo } = await call<{ id: number }>('post', '/api/people', { body: person('Bo', '+1 207 555 0143') });
  await call('get', '/api/people/sharing', { query: { number: '207-555-0142', except: 7 } });
  const { id: cy } = await call<{ id: number }>('post', '/api/people', { body: person('Cy', '+1 207 555 0144') });
  await call('put', '/api/people/:id', {
    params: { id: ana },
    body: { ...person('Ana', '+1 207 555 0142'), quiet: '20:00-09:00' },
  });
  for (const id of [ana, bo, cy]) await call('put', '/api/lists/:id/members/:person', { params: { id: list, person: id } });
  await call('put', '/api/tags/:id/members/:person', { params: { id: tag, person: ana } });
  await call('delete', '/api/tags/:id/members/:person', { params: { id: tag, person: ana } });
  await call('delete', '/api/lists/:id/members/:person', { params: { id: list, person: cy } });
  const { id: junior } = await call<{ id: number }>('post', '/api/people/:id/dependants', {
    params: { id: ana },
    body: {
      dependant: { given_name: 'Otto', family_name: '', reference: '', born: '2016-05-01', fields: { class: 'Otters' } },
      guard: { contact: 1, must_not_receive: false },
    },
  });
  await call('put', '/api/dependants/:id', {
    params: { id: junior },
    body: { given_name: 'Otto', family_name: 'Aalto', reference: 'J-1', born: '2016-05-01', fields: { class: 'Pike' } },
  });
  await call('put', '/api/dependants/:id/contacts/:person', {
    params: { id: junior, person: bo },
    body: { contact: 2, must_not_receive: true },
  });
  await call('get', '/api/dependants', { query: { field: 'class', value: 'pike' } });
  await call('get', '/api/dependants/:id', { params: { id: junior } });
  await call('get', '/api/dependants/ids', { query: { search: 'otto' } });
  await call('post', '/api/people/:id/consent', {
    params: { id: ana },
    body: { purpose: 'marketing', act: 'granted', how: 'in person', evidence: '', wording: '' },
  });
  await call('get', '/api/people/:id', { params: { id: ana } });
  await call('get', '/api/people/:id/history', { params: { id: ana } });
  await call('delete', '/api/dependants/:id/contacts/:person', { params: { id: junior, person: bo } });
  const rule = { op: 'all', of: [{ on: 'field', field: 'home_landing', test: 'is', values: ['Mill Quay'] }] };
  const { id: segment } = await call<{ id: number }>('post', '/api/segments', { body: { name: 'Quay', rule } });
  await call('put', '/api/segments/:id', { params: { id: segment }, body: { name: 'Mill Quay', rule } });
  await call('get', '/api/segments');
  await call('post', '/api/segments/why', { body: { rule, person_id: ana } });
  await call('get', '/api/fields/:about/:slug/values', { params: { about: 'person', slug: 'home_landing' } });
  await call('get', '/api/people/sources');
  await call('get', '/api/people', { query: { segment, sort: 'number', down: '1' } });
  await call('get', '/api/people/count', { query: { list } });
  await call('get', '/api/people/:id/twins', { params: { id: ana } });
  const bulk = await call<{ id: number }>('post', '/api/people/bulk', {
    body: { ids: [ana, bo], act: { kind: 'put_on_new', name: 'Morning boat' }, what: 'put on “Morning boat”' },
  });
  await call('get', '/api/people/changes');
  await call('post', '/api/people/bulk/:id/undo', { params: { id: bulk.id } });
  for (const ending of ['csv', 'xlsx', 'vcf']) await call('get', `/api/people/export.${ending}`);
  return { list, tag, segment, ana, bo, cy, junior };
}
