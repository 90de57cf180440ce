import { Type, type Static } from 'typebox';
import { endpoint } from '../endpoint';
import { Count, Id, Instant, Nullable, Shape } from '../shapes';

const Text = Type.String();
/** Text of codes, one a line; at most 200,000 of them (core/plan/codes). */
const LARGEST = 8 * 1024 * 1024;

export const CodeList = Shape({
  id: Id,
  name: Text,
  created_at: Instant,
  /** Neither given nor reserved. */
  free: Count,
  given: Count,
  /** Of a file that is being brought in, or whose bringing in was broken off. */
  coming: Count,
});
export type CodeList = Static<typeof CodeList>;

const Added = Shape({
  id: Id,
  added: Count,
  /** Lines that name one again, that are blank, that are there already, or stand in another list and were left out. */
  twice: Count,
  blank: Count,
  here: Count,
  elsewhere: Count,
  heading: Nullable(Text),
  wrong: Type.Array(Shape({ line: Count, why: Text })),
});
export type Added = Static<typeof Added>;

export const codes = {
  lists: endpoint({
    method: 'get',
    path: '/api/code-lists',
    role: 'look',
    says: 'Lists of one-time codes, with how many are left',
    answer: Shape({ lists: Type.Array(CodeList) }),
    live: ['codes', 'runs'],
  }),
  make: endpoint({
    method: 'post',
    path: '/api/code-lists',
    role: 'write',
    says: 'A new list of codes from text, one a line (text/plain), under ?name=',
    upload: LARGEST,
    query: Type.Object({ name: Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' }) }),
    answer: Added,
    changes: ['codes'],
  }),
  add: endpoint({
    method: 'post',
    path: '/api/code-lists/:id/codes',
    role: 'write',
    says: 'More codes for a list; those it has already are left out',
    upload: LARGEST,
    answer: Added,
    changes: ['codes'],
  }),
  remove: endpoint({
    method: 'delete',
    path: '/api/code-lists/:id',
    role: 'write',
    says: 'Deletes a list of which no code was given or is held',
    changes: ['codes'],
  }),
  find: endpoint({
    method: 'get',
    path: '/api/codes',
    role: 'look',
    says: 'Who got which code: by the code, a number, or a name, with ?search=',
    query: Type.Object({ search: Type.String({ minLength: 1, maxLength: 100 }) }),
    answer: Shape({
      codes: Type.Array(
        Shape({
          code: Text,
          list: Text,
          number: Nullable(Text),
          person_id: Nullable(Id),
          name: Text,
          run_id: Nullable(Id),
          run: Nullable(Text),
          at: Nullable(Instant),
        }),
      ),
    }),
    live: ['codes', 'runs'],
  }),
};
