import { Type, type Static } from 'typebox';
import { endpoint } from './endpoint';
import { Shape } from './shapes';

const Column = Type.String({ maxLength: 80 });
/** How somebody likes a table: which columns, in which order, how wide (px). */
export const Layout = Shape({
  hidden: Type.Array(Column, { maxItems: 300 }),
  order: Type.Array(Column, { maxItems: 300 }),
  widths: Type.Record(Column, Type.Integer({ minimum: 20, maximum: 2000 })),
});
export type Layout = Static<typeof Layout>;

export const layouts = {
  get: endpoint({
    method: 'get',
    path: '/api/session/layouts',
    role: 'look',
    says: 'How one’s account likes its tables, by their names',
    answer: Type.Record(Type.String(), Layout),
  }),
  keep: endpoint({
    method: 'put',
    path: '/api/session/layouts/:table',
    role: 'look',
    says: 'Remembers columns, their order and width of one table for one’s account',
    body: Layout,
  }),
};
