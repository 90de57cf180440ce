import { Type } from 'typebox';

/** A day that there is, of a century in which somebody may live or write: ISO 8601, `2026-12-02`. */
export const LocalDate = Type.String({ format: 'date', pattern: '^(18|19|20|21)\\d{2}-\\d{2}-\\d{2}$' });
/** A minute that there is on a wall clock, `00:00` to `23:59`. */
export const LocalClock = Type.String({ pattern: '^([01]\\d|2[0-3]):[0-5]\\d$' });
