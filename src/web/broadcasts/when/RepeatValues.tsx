import type { ReactNode } from 'react';
import type { Repeats } from '../../../core/plan/times/repeats';
import { DAY_NAMES, WEEK_NAMES, weekdayOf } from '../../../core/plan/times/repeat-words';
import { Choose, Several, TypedValue } from '../../pieces/form/choices';
import { DateField } from '../../pieces/form/dates';

const OFTEN = (['day', 'week', 'month', 'year'] as const).flatMap((unit) => [1, 2, 3, 4, 6].map((n) => `${n} ${unit}`));
function oftenWords(each: string): string {
  const [n, unit] = each.split(' ');
  return n === '1' ? unit : n === '2' ? `other ${unit}` : `${n} ${unit}s`;
}
const SHORT = ['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'];

/** Every so many, on which days. */
export function Often({ repeats, first, set }: { repeats: Repeats; first: string; set: (repeats: Repeats) => void }): ReactNode {
  const { every, n, days, on } = repeats;
  const nth = on === 'last_day' ? '-1' : on ? String(on.week) : 'date';
  const day = on === 'last_day' ? 'day' : on ? String(on.day) : String(weekdayOf(first));
  const setOn = (week: string, which: string) => {
    if (week === 'date') set({ ...repeats, on: undefined });
    else if (which === 'day') set({ ...repeats, on: 'last_day' });
    else set({ ...repeats, on: { week: Number(week) as 1 | 2 | 3 | 4 | -1, day: Number(which) } });
  };
  const dayOfMonth = Number(first.slice(8));
  return (
    <>
      Every
      <Choose
        label="How often"
        value={`${n} ${every}`}
        options={[...new Set([...OFTEN, `${n} ${every}`])].map((each) => [each, oftenWords(each)] as const)}
        onChange={(next) => {
          const [count, unit] = next.split(' ') as [string, Repeats['every']];
          set({
            ...repeats,
            n: Number(count),
            every: unit,
            days: unit === 'week' ? (days ?? [weekdayOf(first)]) : undefined,
            on: unit === 'month' || unit === 'year' ? on : undefined,
          });
        }}
      />
      {every === 'week' && (
        <>
          on
          <Several
            label="Days of the week"
            value={days ?? [weekdayOf(first)]}
            options={SHORT.map((short, i) => [i + 1, short, DAY_NAMES[i]] as const)}
            onChange={(next) => set({ ...repeats, days: [...next].sort((a, b) => a - b) })}
          />
        </>
      )}
      {(every === 'month' || every === 'year') && (
        <>
          on the
          <Choose
            label="Which of the month"
            value={nth}
            options={[
              [
                'date',
                String(dayOfMonth) +
                  ([, 'st', 'nd', 'rd'][dayOfMonth % 100 > 10 && dayOfMonth % 100 < 14 ? 0 : dayOfMonth % 10] ?? 'th'),
              ],
              ...([1, 2, 3, 4, -1] as const).map((week) => [String(week), WEEK_NAMES[week]] as const),
            ]}
            onChange={(week) => setOn(week, week === '-1' || day !== 'day' ? day : String(weekdayOf(first)))}
          />
          {nth !== 'date' && (
            <Choose
              label="Which weekday"
              value={day}
              options={[
                ...DAY_NAMES.map((name, i) => [String(i + 1), name] as const),
                ...(nth === '-1' ? [['day', 'day of the month'] as const] : []),
              ]}
              onChange={(which) => setOn(nth, which)}
            />
          )}
        </>
      )}
    </>
  );
}

/** Until when. */
export function End({ repeats, first, set }: { repeats: Repeats; first: string; set: (repeats: Repeats) => void }): ReactNode {
  const { times, until } = repeats;
  const kind = times !== undefined ? 'times' : until !== undefined ? 'until' : 'on';
  return (
    <>
      <Choose
        label="Until when"
        value={kind}
        options={[
          ['on', 'and it goes on'],
          ['until', 'until a date'],
          ['times', 'until it has gone so many times'],
        ]}
        onChange={(next) =>
          set({
            ...repeats,
            times: next === 'times' ? 6 : undefined,
            until: next === 'until' ? `${Number(first.slice(0, 4)) + 1}${first.slice(4)}`.replace('-02-29', '-02-28') : undefined,
          })
        }
      />
      {until !== undefined && (
        <DateField
          inLine
          withDay
          label="Last on"
          value={until}
          onChange={(date) => date !== '' && set({ ...repeats, until: date })}
        />
      )}
      {times !== undefined && (
        <>
          <TypedValue
            label="How many times"
            type="number"
            value={times}
            input={{ min: 1, max: 400 }}
            onChange={(typed) => {
              const next = Math.round(Number(typed));
              if (next >= 1 && next <= 400) set({ ...repeats, times: next });
            }}
          />
          times
        </>
      )}
    </>
  );
}

/** What differs much waits for somebody, or goes. */
export function Wait({ wait, set }: { wait: number | undefined; set: (wait: number | undefined) => void }): ReactNode {
  return (
    <>
      Each time
      <Choose
        label="What differs much waits for somebody"
        value={String(wait ?? '')}
        options={[
          ['10', 'it waits for you if people or cost differ by more than a tenth'],
          ['20', 'it waits for you if people or cost differ by more than a fifth'],
          ['50', 'it waits for you if people or cost differ by more than half'],
          ['', 'it goes, however people or cost differ'],
        ]}
        onChange={(next) => set(next === '' ? undefined : Number(next))}
      />
      from the run before.
    </>
  );
}
