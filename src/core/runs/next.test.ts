import { expect, test } from 'vitest';
import { nextOf, type Course } from './next';

const MINUTE = 60_000;
const LIMIT = 30 * MINUTE;
const course = (part: Partial<Course> = {}): Course => ({
  scheduled: true,
  planAt: 50 * MINUTE,
  nextDate: '2026-12-04',
  nextAt: 60 * MINUTE,
  own: false,
  imported: null,
  ...part,
});

test('a date is planned at its time, at once where that has just passed, and missed where it has long', () => {
  expect(nextOf(course(), 49 * MINUTE, LIMIT)).toEqual({ do: 'wait', until: 50 * MINUTE });
  expect(nextOf(course(), 50 * MINUTE, LIMIT)).toEqual({ do: 'plan date', date: '2026-12-04', atOnce: false });
  expect(nextOf(course(), 60 * MINUTE, LIMIT)).toEqual({ do: 'plan date', date: '2026-12-04', atOnce: true });
  expect(nextOf(course(), 90 * MINUTE, LIMIT)).toEqual({ do: 'plan date', date: '2026-12-04', atOnce: true });
  expect(nextOf(course(), 90 * MINUTE + 1, LIMIT)).toMatchObject({ do: 'miss', date: '2026-12-04' });
});

test('in each one’s own time no date is missed as a whole, and none is moved', () => {
  expect(nextOf(course({ own: true }), 300 * MINUTE, LIMIT)).toEqual({ do: 'plan date', date: '2026-12-04', atOnce: false });
});

test('what was agreed to is planned once more; each import brings a run; nothing comes of what is not scheduled', () => {
  expect(nextOf(course({ nextDate: null, nextAt: null }), 50 * MINUTE, LIMIT)).toEqual({ do: 'plan anew' });
  const imports = { planAt: null, nextDate: null, nextAt: null };
  expect(nextOf(course({ ...imports, imported: { id: 4 } }), 0, LIMIT)).toEqual({ do: 'plan import', id: 4 });
  expect(nextOf(course(imports), 0, LIMIT)).toEqual({ do: 'nothing' });
  expect(nextOf(course({ scheduled: false, imported: { id: 4 } }), 90 * MINUTE, LIMIT)).toEqual({ do: 'nothing' });
});
