import { Type, type Static } from 'typebox';
import { Draft, Links } from '../../plan/draft/draft';
import { endpoint } from '../endpoint';
import { Count, Id, Instant, Made, Nullable, OneOf, Shape, Skip } from '../shapes';

const Text = Type.String();
const Kind = OneOf('template', 'piece', 'answer');
export type PreparedKind = Static<typeof Kind>;
/** Words by language code. */
const Wordings = Type.Record(Type.String({ pattern: '^[a-z]{2,3}$' }), Type.String({ maxLength: 4000 }));

const NAMED = {
  folder: Type.String({ maxLength: 60 }),
  name: Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' }),
  words: Wordings,
  links: Links,
};

/** A template (a whole text) or a saved piece of one; a piece has no folder and no links. */
export const PreparedText = Shape({
  ...NAMED,
  id: Id,
  kind: Kind,
  version: Type.Integer(),
  updated_at: Instant,
  by: Nullable(Text),
});
export type PreparedText = Static<typeof PreparedText>;

/** A text that was sent before, as it was sent last. */
export const EarlierText = Shape({
  run_id: Id,
  name: Text,
  at: Instant,
  people: Count,
  words: Wordings,
  links: Links,
  opt_out: Draft.properties.opt_out,
});
export type EarlierText = Static<typeof EarlierText>;

export const templates = {
  list: endpoint({
    method: 'get',
    path: '/api/prepared-texts',
    role: 'look',
    says: 'Templates by folder, or saved pieces, by ?kind=; found by folder, name or words with ?search=; a page after ?skip=',
    query: Type.Object({ kind: Kind, search: Type.Optional(Type.String({ maxLength: 200 })), skip: Skip }),
    answer: Shape({ texts: Type.Array(PreparedText), total: Count }),
    live: ['templates'],
  }),
  folders: endpoint({
    method: 'get',
    path: '/api/prepared-texts/folders',
    role: 'look',
    says: 'The folders in which there are templates',
    answer: Shape({ folders: Type.Array(Text) }),
    live: ['templates'],
  }),
  earlier: endpoint({
    method: 'get',
    path: '/api/prepared-texts/earlier',
    role: 'look',
    says: 'Texts that were sent before, each once, the latest first; found by name or words with ?search=; a page after ?skip=',
    query: Type.Object({ search: Type.Optional(Type.String({ maxLength: 200 })), skip: Skip }),
    answer: Shape({ texts: Type.Array(EarlierText), total: Count }),
    live: ['runs'],
  }),
  make: endpoint({
    method: 'post',
    path: '/api/prepared-texts',
    role: 'write',
    says: 'Keeps words as a template or as a piece; a name is there once',
    body: Shape({ ...NAMED, kind: Kind }),
    answer: Made,
    changes: ['templates'],
  }),
  change: endpoint({
    method: 'put',
    path: '/api/prepared-texts/:id',
    role: 'write',
    says: 'Changes a template or a piece; the version must be the one it was made from. Nothing that is written changes by it',
    body: Shape({ ...NAMED, version: Type.Integer() }),
    answer: Shape({ version: Type.Integer() }),
    changes: ['templates'],
  }),
  remove: endpoint({
    method: 'delete',
    path: '/api/prepared-texts/:id',
    role: 'write',
    says: 'Deletes a template or a piece; what was written with it stays',
    changes: ['templates'],
  }),
};
