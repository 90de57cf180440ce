import { Type } from 'typebox';

/** How many of a list stand before the page that is wanted. */
export const Skip = Type.Optional(Type.Integer({ minimum: 0, maximum: 1_000_000_000 }));

/** The id that a page goes on after. */
export const After = Type.Optional(Type.Integer({ minimum: 0, maximum: Number.MAX_SAFE_INTEGER }));
