import { Type, type Static } from 'typebox';
import { LocalDate } from '../draft/wall-schemas';

const Day = Type.Integer({ minimum: 1, maximum: 7 });
const Strict = { additionalProperties: false } as const;

/**
 * How a broadcast goes again and again: a part of RFC 5545's recurrences that can be said in one sentence. It begins on the date
 * of the broadcast; each time it is planned anew.
 */
export const Repeats = Type.Object(
  {
    every: Type.Unsafe<'day' | 'week' | 'month' | 'year'>(Type.Enum(['day', 'week', 'month', 'year'])),
    /** Every so many of them. */
    n: Type.Integer({ minimum: 1, maximum: 99 }),
    /** Of a week, 1 (Monday) to 7; that of the first date where it is left out. */
    days: Type.Optional(Type.Array(Day, { minItems: 1, maxItems: 7 })),
    /** Of a month or a year: a weekday in it, counted from its beginning or the last (-1), or its last day; else the date. */
    on: Type.Optional(
      Type.Union([
        Type.Object({ week: Type.Unsafe<1 | 2 | 3 | 4 | -1>(Type.Enum([1, 2, 3, 4, -1])), day: Day }, Strict),
        Type.Literal('last_day'),
      ]),
    ),
    /** After so many times, or with the last one on or before a date; else it goes on. */
    times: Type.Optional(Type.Integer({ minimum: 1, maximum: 400 })),
    until: Type.Optional(LocalDate),
    skip: Type.Optional(Type.Array(LocalDate, { maxItems: 100 })),
    extra: Type.Optional(Type.Array(LocalDate, { maxItems: 100 })),
    /** Waits for a person when people or cost differ from the run before by more than so many in a hundred. */
    wait: Type.Optional(Type.Integer({ minimum: 1, maximum: 100 })),
  },
  Strict,
);
export type Repeats = Static<typeof Repeats>;
