import type { ReactNode } from 'react';
import type { Draft } from '../../../core/plan/draft/draft';
import { DAY_NAMES, repeatWords } from '../../../core/plan/times/repeat-words';
import { heading } from '../../people/for-others';
import { dayOf, wallTime, zoneName } from '../../pieces/format';
import { ListName } from './ListName';

const day = (date: string) => dayOf(`${date}T12:00:00Z`, 'UTC');

/** When a broadcast goes, as a sentence. */
export function whenInWords({ when }: Draft, zone: string): ReactNode {
  if (when.kind === 'import')
    return (
      <>
        Whenever people have been brought into <ListName id={when.list_id} />
        {when.wait ? `, ${when.wait === 1 ? 'a day' : `${when.wait} days`} later` : ''}.
      </>
    );
  if (when.kind === 'now') return when.again ? 'Whenever somebody says so.' : 'At once, when it is agreed to.';
  const whose = when.own ? 'in each one’s own time' : `${zoneName(zone)} time`;
  const first = when.repeats
    ? `${heading(repeatWords(when.repeats, when.date))} at ${wallTime(when.time)}, beginning ${day(when.date)}`
    : `On ${day(when.date)} at ${wallTime(when.time)}`;
  const who = when.current ? ` To whoever is there then, not more than ${when.current.most.toLocaleString('en-US')}.` : '';
  return `${first}, ${whose}.${who}`;
}

/** What holds it back or spreads it, a sentence each. */
export function limitsInWords(draft: Draft): string[] {
  const { allowed, pace, no_use_after: until, urgent, show_at_once } = draft;
  return [
    ...(urgent ? [`It cannot wait for quiet hours: ${urgent}.`] : []),
    ...(allowed
      ? [
          `Only ${allowed.days.length === 7 ? 'every day' : allowed.days.map((each) => DAY_NAMES[each - 1]).join(', ')}, ${wallTime(allowed.from)} to ${allowed.to === '24:00' ? 'midnight' : wallTime(allowed.to)} in their time.`,
        ]
      : []),
    ...(pace?.kind === 'a_minute' ? [`${pace.texts.toLocaleString('en-US')} texts a minute.`] : []),
    ...(pace?.kind === 'until' ? [`Evenly until ${day(pace.date)}, ${wallTime(pace.time)}.`] : []),
    ...(show_at_once ? ['Phones show it at once, and most keep nothing of it.'] : []),
    ...(until ? [`Of no use after ${day(until.date)}, ${wallTime(until.time)}.`] : []),
  ];
}
