import { useState, type ReactNode } from 'react';
import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';
import type { Repeats } from '../../../core/plan/times/repeats';
import { datesFrom, nextDate } from '../../../core/plan/times/upcoming';
import { localInstant, wallClock } from '../../../core/zones';
import { useDesk } from '../../api/session';
import { DateField } from '../../pieces/form/dates';
import { count, dayOf, money, people, clockTime } from '../../pieces/format';
import { Bit, Column, Fact, Row, Words } from '../../pieces/layout';
import { useNow } from '../../pieces/small';
import { Way } from '../../pieces/ways';

const SHOWN = 10;
type At = Extract<Draft['when'], { kind: 'at' }>;

/** The next dates of a repeated broadcast, each with the time it really is that day; one can be left out, another put in. */
export function NextDates({
  at,
  repeats,
  plan,
  change,
}: {
  at: At;
  repeats: Repeats;
  plan: PlanSummary | undefined;
  change: (repeats: Repeats) => void;
}): ReactNode {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const [adding, setAdding] = useState(false);
  const { zone } = workspace;
  const first = nextDate(at, now, zone);
  const dates = first === undefined ? [] : datesFrom(at, first, SHOWN + 1);
  const last = dates.length <= SHOWN ? dates.at(-1) : undefined;
  const today = wallClock(now, zone).date;
  const skipped = (repeats.skip ?? []).filter((date) => date >= today);
  return (
    <Column gap={0}>
      <h2>{dates.length > SHOWN ? `The next ${SHOWN}` : dates.length === 0 ? 'It never goes' : 'All that are to come'}</h2>
      <Column gap={0} above={6}>
        {dates.slice(0, SHOWN).map((date, i) => {
          const { instant, note } = localInstant(date, at.time, zone);
          const extra = repeats.extra?.includes(date);
          return (
            <Fact tight key={date}>
              <Bit>
                <b>{dayOf(instant, zone)}</b>
                {date.slice(0, 4) === today.slice(0, 4) ? '' : `, ${date.slice(0, 4)}`} <Bit soft>{clockTime(instant, zone)}</Bit>
                {note && (
                  <Bit plum small>
                    {' '}
                    {note === 'gap' ? 'that hour is skipped that day' : 'that hour comes twice; the first'}
                  </Bit>
                )}
              </Bit>
              <Row gap={8} nowrap small>
                {plan && (
                  <Bit soft>
                    {i === 0 ? `${people(plan.people)}, ${money(plan.cost_micro, plan.currency)}` : count(plan.people)}
                    {date === last ? ', the last' : ''}
                  </Bit>
                )}
                <Way
                  small
                  aria-label={`${extra ? 'Take away' : 'Skip'} ${dayOf(instant, zone)}`}
                  onClick={() =>
                    change(
                      extra
                        ? { ...repeats, extra: repeats.extra?.filter((each) => each !== date) }
                        : { ...repeats, skip: [...(repeats.skip ?? []), date] },
                    )
                  }
                >
                  {extra ? 'take away' : 'skip'}
                </Way>
              </Row>
            </Fact>
          );
        })}
      </Column>
      {skipped.length > 0 && (
        <Words small above={6}>
          Skipped:{' '}
          {skipped.map((date) => (
            <span key={date}>
              {dayOf(`${date}T12:00:00Z`, 'UTC')}{' '}
              <Way
                small
                aria-label={`let it go: ${dayOf(`${date}T12:00:00Z`, 'UTC')}`}
                onClick={() => change({ ...repeats, skip: repeats.skip?.filter((each) => each !== date) })}
              >
                let it go
              </Way>{' '}
            </span>
          ))}
        </Words>
      )}
      <Row above={8} small>
        {adding ? (
          <DateField
            inLine
            withDay
            label="A date more"
            least={today}
            value=""
            onChange={(date) => {
              if (date === '') return;
              setAdding(false);
              if (!dates.includes(date)) change({ ...repeats, extra: [...(repeats.extra ?? []), date].sort() });
            }}
          />
        ) : (
          <Way small onClick={() => setAdding(true)}>
            add a date
          </Way>
        )}
      </Row>
      <Words soft small above={8}>
        People are counted anew each time, ten minutes before.
      </Words>
    </Column>
  );
}
