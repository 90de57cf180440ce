import { Type, type TProperties, type TSchema, type Static } from 'typebox';

/** An object that has these members and no others. */
export function Shape<P extends TProperties>(members: P) {
  return Type.Object(members, { additionalProperties: false });
}

/** The schema, or null. */
export function Nullable<S extends TSchema>(schema: S) {
  return Type.Union([schema, Type.Null()]);
}

/** One of a few words. */
export function OneOf<const W extends string>(...words: readonly W[]) {
  return Type.Unsafe<W>(Type.Enum([...words]));
}

/** A number of something. */
export const Count = Type.Integer({ minimum: 0 });
export const Id = Type.Integer({ minimum: 1 });
/** A moment, ISO 8601 with its offset (RFC 3339). */
export const Instant = Type.String({ format: 'date-time' });
/** Millionths of the workspace's currency; may be negative where it is a correction. */
export const Micro = Type.Integer();

/** How many of a list stand before the page that is wanted. */
export const Skip = Type.Optional(Type.Integer({ minimum: 0, maximum: 1_000_000_000 }));
/** The id that a page goes on after. */
export const After = Type.Optional(Type.Integer({ minimum: 0, maximum: Number.MAX_SAFE_INTEGER }));

/** What was made. */
export const Made = Shape({ id: Id });
export type Made = Static<typeof Made>;

/** What a field of a person or a dependant holds, by its name. */
export const FieldValues = Type.Record(Type.String({ pattern: '^[a-z][a-z0-9_]{0,40}$' }), Type.String({ maxLength: 500 }));
/** How many of each state. */
export const Tally = Type.Record(Type.String(), Count);
export const SenderKind = OneOf('long', 'short', 'name');
