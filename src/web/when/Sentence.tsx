import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import type { PlanSummary } from '../../core/api/plan';
import type { Sources } from '../../core/api/people';
import type { Draft } from '../../core/plan/draft';
import type { Repeats } from '../../core/plan/repeats';
import { DAY_NAMES, WEEK_NAMES, weekdayOf } from '../../core/plan/repeat-words';
import { Allowed } from '../broadcasts/Allowed';
import { Pace } from '../broadcasts/Pace';
import { useDesk } from '../api/session';
import { Choose, Several, TypedValue } from '../pieces/choices';
import { DateField, TimeField } from '../pieces/dates';
import { people, zoneName } from '../pieces/format';
import { Row } from '../pieces/layout';
import { Way } from '../pieces/ways';

type At = Extract<Draft['when'], { kind: 'at' }>;

/** Said as one goes along: values stand in the sentence that they are part of. */
const Said = styled('div')({
  fontSize: 17,
  lineHeight: 2,
  display: 'flex',
  flexWrap: 'wrap',
  alignItems: 'baseline',
  columnGap: 6,
});

const OFTEN = (['day', 'week', 'month', 'year'] as const).flatMap((unit) => [1, 2, 3, 4, 6].map((n) => `${n} ${unit}`));
function oftenWords(each: string): string {
  const [n, unit] = each.split(' ');
  return n === '1' ? unit : n === '2' ? `other ${unit}` : `${n} ${unit}s`;
}
const SHORT = ['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'];

/** When it goes, in one sentence of values. */
export function Sentence({
  draft,
  plan,
  sources,
  change,
}: {
  draft: Draft;
  plan: PlanSummary | undefined;
  sources: Sources | undefined;
  change: (part: Partial<Draft>) => void;
}): ReactNode {
  const { workspace } = useDesk();
  const { when } = draft;
  const set = (part: Partial<At>) => when.kind === 'at' && change({ when: { ...when, ...part } });
  return (
    <>
      <Said role="group" aria-label="When it goes">
        {when.kind === 'import' && (
          <>
            Whenever people have been brought into
            <Choose
              label="Which list"
              value={String(when.list_id)}
              options={[
                ...(sources?.lists.some((list) => list.id === when.list_id)
                  ? []
                  : [[String(when.list_id), 'choose a list'] as const]),
                ...(sources?.lists ?? []).map((list) => [String(list.id), list.name] as const),
              ]}
              onChange={(id) => change({ when: { ...when, list_id: Number(id) } })}
            />
            it goes at once to everyone who is chosen.{' '}
            <Wait wait={when.wait} set={(wait) => change({ when: { ...when, wait } })} />
          </>
        )}
        {when.kind === 'now' &&
          (when.again
            ? 'Now, and again whenever somebody says so: when it has gone, it is a draft again, with its words and its people.'
            : 'As soon as it is agreed to.')}
        {when.kind === 'at' && (
          <>
            {when.repeats && <Often repeats={when.repeats} first={when.date} set={(repeats) => set({ repeats })} />}
            {when.repeats ? 'at' : 'On'}
            {!when.repeats && (
              <DateField inLine withDay label="Date" value={when.date} onChange={(date) => date !== '' && set({ date })} />
            )}
            {!when.repeats && 'at'}
            <TimeField inLine label="Time" value={when.time} onChange={(time) => set({ time })} />
            <Choose
              label="Whose clock"
              value={when.own ? 'own' : 'ours'}
              options={[
                ['ours', `our time, ${zoneName(workspace.zone)}`],
                ['own', 'each in their own time'],
              ]}
              onChange={(whose) => set({ own: whose === 'own' ? true : undefined })}
            />
            {when.repeats && (
              <>
                from
                <DateField
                  inLine
                  withDay
                  label="Beginning on"
                  value={when.date}
                  onChange={(date) => date !== '' && set({ date })}
                />
                <End repeats={when.repeats} first={when.date} set={(repeats) => set({ repeats })} />
                <Wait wait={when.repeats.wait} set={(wait) => set({ repeats: { ...(when.repeats as Repeats), wait } })} />
              </>
            )}
            {!when.repeats && <Who at={when} plan={plan} set={set} />}
          </>
        )}
      </Said>
      <Row small gap={20} starts>
        <Row gap={6} base>
          Only at
          <Allowed draft={draft} change={change} />
        </Row>
        <Row gap={6} base>
          Pace:
          <Pace draft={draft} plan={plan} change={change} />
        </Row>
      </Row>
    </>
  );
}

function Often({ repeats, first, set }: { repeats: Repeats; first: string; set: (repeats: Repeats) => void }): ReactNode {
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

function End({ repeats, first, set }: { repeats: Repeats; first: string; set: (repeats: Repeats) => void }): ReactNode {
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

function Wait({ wait, set }: { wait: number | undefined; set: (wait: number | undefined) => void }): ReactNode {
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

/** As of now, or whoever is there when it goes, up to so many. */
function Who({ at, plan, set }: { at: At; plan: PlanSummary | undefined; set: (part: Partial<At>) => void }): ReactNode {
  const most = Math.max(1, Math.ceil((plan?.people ?? 1) * 1.1));
  return (
    <>
      to
      <Choose
        label="Who is meant"
        // the ceiling begins with how many there are
        disabled={!plan}
        value={at.current ? 'current' : 'now'}
        options={[
          ['now', plan ? `the ${people(plan.people)} of now` : 'those of now'],
          ['current', 'whoever is there then'],
        ]}
        onChange={(next) => set({ current: next === 'current' ? { most } : undefined })}
      />
      {at.current && (
        <>
          but not more than
          <TypedValue
            label="At most so many people"
            type="number"
            value={at.current.most}
            input={{ min: 1 }}
            onChange={(typed) => {
              const next = Math.round(Number(typed));
              if (next >= 1) set({ current: { most: next } });
            }}
          />
          ; with more, only those of now get it.
        </>
      )}
      {at.current && plan && at.current.most < plan.people && (
        <Way small onClick={() => set({ current: { most } })}>
          that is fewer than now: take {most.toLocaleString('en-US')}
        </Way>
      )}
    </>
  );
}
