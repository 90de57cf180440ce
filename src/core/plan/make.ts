import { copiesOf } from './reach/copies';
import { contentOf, digestOf } from './picture/digest';
import { groupsOf } from './times/groups';
import { LATELY_DAYS, MUCH } from './reach/history';
import { languagesOf, sumUp, WAITS } from './picture/sums';
import { keepTimely, partsOnTheLine, writeAll, type Written } from './words/written';
import type { Plan, PlanAsked } from './plan';
import type { PlanPerson } from './reach/person';
import { paceOf } from './times/pace';
import { positionsBy } from './times/positions';
import { readiness } from './ready/readiness';
import { startsOf } from './times/starts';
import { summaryOf } from './summary';
import { makeTimetable } from './times/timetable';
import { wallClock } from '../zones';

/** Recipients in hash order, so that the early ones are not always the same people. FNV-1a. */
function hashOrder(number: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < number.length; i += 1) hash = Math.imul(hash ^ number.charCodeAt(i), 0x01000193) >>> 0;
  return hash;
}

/**
 * The exact plan of a draft over its audience: which words, how many parts, what cost, when, and who not and why. The stages
 * follow each other, since it would be circular otherwise: who (decided before) → language and words for the day of sending →
 * parts → timetable → words again where the day has changed → readiness.
 */
export function makePlan(asked: PlanAsked): Plan {
  const { draft, workspace, writer, reach, book } = asked;
  const recipients = inOrder(reach.willGet);
  const groups = groupsOf(asked, recipients);
  const starts = startsOf(draft, asked.when, groups.zones, asked.now, workspace.hours, asked.lateBy);
  const pace = paceOf(draft, workspace.zone, starts.base, recipients.length);
  const when = {
    ...asked.when,
    base: starts.base,
    notAfter: starts.notAfter,
    wrong: [...asked.when.wrong, ...starts.wrong, ...(pace.wrong ? [{ message: pace.wrong }] : [])],
  };
  const written = writeAll(asked, recipients, groups, starts);
  const onTheLine = partsOnTheLine(written);
  const { due, busy } = makeTimetable({
    base: when.base,
    notAfter: when.notAfter,
    rate: asked.sender?.parts_per_second ?? 1,
    rules: groups.rules,
    groupOf: groups.of,
    parts: onTheLine,
    busy: asked.busy,
    starts: starts.of,
    perText: pace.perText,
    book,
  });
  const dropped: Plan['dropped'] = { ...reach.dropped, too_late: [] };
  const texts = keepTimely(asked, recipients, written, groups, due, dropped.too_late);
  const sums = sumUp(asked, texts, groups, starts);
  const languages = languagesOf(asked, texts, written);
  const hash = asked.hash();
  const first = sums.first;
  const copies = copiesOf(asked.desk ?? [], texts, first, asked.rates);
  const content = contentOf(hash, asked, texts, copies, groups.rules);
  const shape = { at: asked.now, base: when.base, due: texts.due, count: texts.count, spilled: sums.spilled };
  const digest = digestOf(asked.hash(), content, draft.when, shape);
  const copied = copies.reduce((sum, each) => ({ parts: sum.parts + each.parts, cost: sum.cost + each.cost }), {
    parts: 0,
    cost: 0,
  });
  const much = textedMuch(asked.history, texts);
  const barred = texts.people.filter((person) => person.barredForSome);
  const naming = namingOf(asked, texts);
  const otherwise = texts.people.filter((person) => person.hereAs !== undefined);
  const { must, hints } = readiness({
    draft,
    workspace,
    sender: asked.sender,
    writer,
    when,
    chosen: reach.chosen,
    people: texts.count,
    cost: sums.cost + copied.cost,
    balance: asked.balance,
    first,
    last: sums.last,
    missing: written.missing,
    tooLong: sums.tooLong,
    longest: Math.max(0, ...sums.distribution.keys()),
    extended: sums.extended,
    unpriced: written.unpriced,
    delayed: sums.delayed,
    spilled: sums.spilled,
    extra: written.extra,
    languages,
    pace,
    codes: asked.codes,
    needed: written.needed,
    history: asked.history,
    barred,
    naming,
    otherwise,
    textedMuch: much.length,
    gone: asked.gone,
    filling: asked.filling,
  });
  const summary = summaryOf({
    asked,
    texts,
    written,
    sums,
    dropped,
    languages,
    copies,
    copied,
    notAfter: when.notAfter,
    must,
    hints,
  });
  return {
    summary,
    texts,
    dropped,
    reach,
    digest,
    content,
    shape,
    busy,
    base: starts.base,
    spilled: sums.spilled,
    links: writer.links,
    dated: writer.compiled.dated,
    copies,
    rates: asked.rates,
    hinted: hintedPeople(asked, texts, written, sums.waits, { much, barred, naming, otherwise }),
    relay: (base) => relayed({ asked, recipients, groups, onTheLine, due, texts, useFor: when.notAfter - when.base }, base),
  };
}

/** The same texts from another moment on, where nothing of them would read otherwise. */
function relayed(
  {
    asked,
    recipients,
    groups,
    onTheLine,
    due,
    texts,
    useFor,
  }: {
    asked: PlanAsked;
    recipients: readonly PlanPerson[];
    groups: ReturnType<typeof groupsOf>;
    onTheLine: ReturnType<typeof partsOnTheLine>;
    due: ReturnType<typeof makeTimetable>['due'];
    texts: Plan['texts'];
    useFor: number;
  },
  base: number,
): ReturnType<Plan['relay']> {
  const { draft, workspace, writer, book } = asked;
  const laid = makeTimetable({
    base,
    notAfter: base + useFor,
    rate: asked.sender?.parts_per_second ?? 1,
    rules: groups.rules,
    groupOf: groups.of,
    parts: onTheLine,
    busy: asked.busy,
    perText: paceOf(draft, workspace.zone, base, recipients.length).perText,
    book,
  });
  if (laid.due.some(Number.isNaN) !== due.some(Number.isNaN) || texts.count !== recipients.length) return undefined;
  if (writer.compiled.dated)
    for (let i = 0; i < texts.count; i += 1) {
      const zone = groups.zones[groups.of[i]].zone;
      if (wallClock(laid.due[i], zone).date !== wallClock(texts.due[i], zone).date) return undefined;
    }
  let spilled = 0;
  const closes = groups.rules.map((rule) => book.next(rule, base)?.until ?? Infinity);
  for (let i = 0; i < texts.count; i += 1)
    if (laid.due[i] - base > 3_600_000 && laid.due[i] >= closes[groups.of[i]]) spilled += 1;
  return { due: laid.due, busy: laid.busy, spilled };
}

/** Recipients who have had many texts lately already. */
function textedMuch(history: PlanAsked['history'], texts: Plan['texts']): PlanPerson[] {
  if (!history || history.texted.size === 0) return [];
  return texts.people.filter((each) => (history.texted.get(each.number ?? '') ?? 0) >= MUCH);
}

/** How many dependants the texts name, and whose name all that they have, since nobody knows for whom they were chosen. */
function namingOf({ writer }: PlanAsked, texts: Plan['texts']): { dependants: number; all: PlanPerson[] } {
  if (!writer.aboutDependants) return { dependants: 0, all: [] };
  const named = new Set<number>();
  const all: PlanPerson[] = [];
  for (const person of texts.people) {
    for (const { id } of person.dependants) named.add(id);
    // of one there is no doubt
    if (!person.thereFor && person.dependants.length > 1) all.push(person);
  }
  return { dependants: named.size, all };
}

/** Those that the remarks speak of, by step. */
function hintedPeople(
  { writer }: PlanAsked,
  texts: Plan['texts'],
  written: Written,
  waits: Uint8Array,
  {
    much,
    barred,
    naming,
    otherwise,
  }: { much: PlanPerson[]; barred: PlanPerson[]; naming: ReturnType<typeof namingOf>; otherwise: PlanPerson[] },
): Plan['hinted'] {
  const unworded = texts.people.filter((_, i) => {
    const language = texts.languages[texts.language[i]];
    return writer.wordedIn(language) !== language;
  });
  return new Map<string, { why: string | ((person: PlanPerson) => string); people: PlanPerson[] }>([
    ...[...written.missing].map(([name, people]) => [`missing_${name}`, { why: `has no “${name}”`, people }] as const),
    ['unworded', { why: 'gets the words of another language', people: unworded }] as const,
    ['quiet', { why: 'waits until quiet hours end', people: texts.people.filter((_, i) => waits[i] === WAITS.hours) }] as const,
    [
      'spilled',
      {
        why: 'waits for the sender, until after quiet hours',
        people: texts.people.filter((_, i) => waits[i] === WAITS.line),
      },
    ] as const,
    ['barred', { why: 'must not hear about a dependant of theirs', people: barred }] as const,
    ['other_name', { why: (person: PlanPerson) => `${person.hereAs ?? ''} in the address book`, people: otherwise }] as const,
    ['names_all', { why: 'all dependants are named', people: naming.all }] as const,
    ['texted_much', { why: `had ${MUCH} texts or more in the last ${LATELY_DAYS} days`, people: much }] as const,
  ]);
}

/** While an audience is kept, so is its order: only the words of a draft change with most plans. */
const ordered = new WeakMap<readonly PlanPerson[], PlanPerson[]>();
function inOrder(people: readonly PlanPerson[]): readonly PlanPerson[] {
  const known = ordered.get(people);
  if (known) return known;
  const sorted = Array.from(
    positionsBy((i) => hashOrder(people[i].number ?? ''), people.length),
    (at) => people[at],
  );
  ordered.set(people, sorted);
  return sorted;
}
