import fc from 'fast-check';
import { expect, test } from 'vitest';
import { addressOf } from './endpoint';

test.each([
  ['/api/people', {}, '/api/people'],
  ['/api/people/:id', { params: { id: 7 } }, '/api/people/7'],
  ['/api/fields/:about/:slug', { params: { about: 'person', slug: 'a/b' } }, '/api/fields/person/a%2Fb'],
  ['/api/people', { query: { search: 'Noémie & Söhne', tag: undefined } }, '/api/people?search=No%C3%A9mie+%26+S%C3%B6hne'],
  ['/api/runs/:id/recipients', { params: { id: 1 }, query: { after: 0, state: '' } }, '/api/runs/1/recipients?after=0&state='],
])('%s with %j', (path, call, address) => expect(addressOf(path, call)).toBe(address));

test('whatever is asked arrives as it was (RFC 3986)', () => {
  fc.assert(
    fc.property(
      fc.string({ minLength: 1 }).filter((text) => text.isWellFormed()),
      fc.string(),
      (id, search) => {
        const wanted = search.toWellFormed();
        const url = new URL(addressOf('/api/things/:id/x', { params: { id }, query: { search: wanted } }), 'http://localhost');
        // a single dot or two are steps of a path, and no id is one
        if (id !== '.' && id !== '..') expect(decodeURIComponent(url.pathname.split('/')[3])).toBe(id);
        expect(url.searchParams.get('search')).toBe(wanted);
      },
    ),
  );
});
