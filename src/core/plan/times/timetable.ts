import { LEAST_VALIDITY } from '../../gate/gate';
import { hoursKey, type Hours, type HoursRule } from '../../gate/hours';

/** A stretch in which a sender's line is full, ms: from (inclusive) until (exclusive). */
export interface Busy {
  from: number;
  until: number;
}

export interface Timetable {
  /** Due time of each recipient, ms, in the order given; NaN when no allowed hour is left before the text is of no use. */
  due: Float64Array;
  /** When the sender's line is full with this run. */
  busy: Busy[];
}

interface Queue {
  rule: HoursRule;
  key: string;
  /** Positions of its recipients, in order, and how many have their time. */
  members: Uint32Array;
  next: number;
  opens: number;
  closes: number;
}

const MOST_BUSY = 200;

/**
 * One timetable out of pace, hours and the sender's line: at each moment the next recipient whose hours are open goes, as
 * fast as the line allows; who does not fit before their hours close goes on in their next ones. Never more than the
 * sender's rate, whatever the number of zones, and never in a stretch that another run has filled.
 *
 * @param groupOf for each recipient, in the order of going, the index of their rule
 * @param parts for each recipient, text parts
 * @param rate parts a second
 * @param starts for each rule, when its recipients may begin at the earliest; the base where it is left out
 * @param perText least time from one text to the next, ms
 * @param busy what other runs of the sender have taken, ascending, without overlaps
 */
export function makeTimetable(asked: {
  base: number;
  notAfter: number;
  rate: number;
  rules: readonly HoursRule[];
  groupOf: ArrayLike<number>;
  parts: ArrayLike<number>;
  busy?: readonly Busy[];
  starts?: readonly number[];
  perText?: number;
  book: Hours;
}): Timetable {
  const { base, notAfter, rate, rules, groupOf, parts, book } = asked;
  const due = new Float64Array(groupOf.length).fill(NaN);
  const taken = asked.busy ?? [];
  const perPart = 1000 / rate;
  const perText = asked.perText ?? 0;
  const members = membersOf(groupOf, rules.length);
  const queues = rules.map((rule, g): Queue => ({
    rule,
    key: hoursKey(rule),
    members: members[g],
    next: 0,
    opens: 0,
    closes: 0,
  }));
  // who is open goes in the order of the recipients, who is shut opens in the order of their hours
  const open = new Heap<Queue>();
  const shut = new Heap<Queue>();
  // the last seconds before hours close are kept free: nobody begins what cannot be delivered
  const until = (closes: number) => closes - LEAST_VALIDITY;
  const reopen = (queue: Queue, at: number): void => {
    if (queue.next >= queue.members.length || queue.rule.zones.length === 0 || at >= notAfter) return;
    let stretch = book.next(queue.rule, at, queue.key);
    while (stretch && until(stretch.until) <= stretch.from) stretch = book.next(queue.rule, stretch.until, queue.key);
    if (!stretch || stretch.from >= notAfter) return;
    queue.opens = stretch.from;
    queue.closes = until(stretch.until);
    shut.push(queue, queue.opens);
  };
  queues.forEach((queue, i) => reopen(queue, Math.max(base, asked.starts?.[i] ?? base)));
  const busy: Busy[] = [];
  let at = base;
  let nextBusy = 0;
  for (;;) {
    while (shut.top !== undefined && shut.top.opens <= at) {
      const queue = shut.pop();
      open.push(queue, queue.members[queue.next]);
    }
    if (open.top === undefined) {
      if (shut.top === undefined) break;
      at = Math.max(at, shut.top.opens);
      continue;
    }
    while (nextBusy < taken.length && taken[nextBusy].until <= at) nextBusy += 1;
    if (nextBusy < taken.length && taken[nextBusy].from <= at) {
      at = taken[nextBusy].until;
      continue;
    }
    if (at >= notAfter) break;
    const queue = open.top;
    if (at >= queue.closes) {
      open.pop();
      reopen(queue, queue.closes + LEAST_VALIDITY);
      continue;
    }
    const who = queue.members[queue.next];
    // sums of fractions fall short of the millisecond they mean
    due[who] = Math.floor(at + 1e-3);
    const end = at + parts[who] * perPart;
    // a slow pace leaves most of the line to others: they go between, and the line's own rate sees to the moment
    if (perText < 2 * (end - at)) {
      const last = busy[busy.length - 1];
      if (last && at - last.until < 1) last.until = end;
      else busy.push({ from: at, until: end });
    }
    at = Math.max(end, at + perText);
    queue.next += 1;
    if (queue.next >= queue.members.length) open.pop();
    else open.sink(queue.members[queue.next]);
  }
  return { due, busy: coarser(busy) };
}

/** Positions by group, in order: counted first, so that each group is one piece of one array. */
function membersOf(groupOf: ArrayLike<number>, groups: number): Uint32Array[] {
  const ends = new Uint32Array(groups + 1);
  for (let i = 0; i < groupOf.length; i += 1) ends[groupOf[i] + 1] += 1;
  for (let g = 0; g < groups; g += 1) ends[g + 1] += ends[g];
  const all = new Uint32Array(groupOf.length);
  const next = ends.slice();
  for (let i = 0; i < groupOf.length; i += 1) all[next[groupOf[i]]++] = i;
  return Array.from({ length: groups }, (_, g) => all.subarray(ends[g], ends[g + 1]));
}

/** The narrowest gaps are closed until there are few enough stretches to keep with a run. */
function coarser(busy: Busy[]): Busy[] {
  if (busy.length <= MOST_BUSY) return busy;
  const gaps = busy
    .slice(1)
    .map((each, i) => each.from - busy[i].until)
    .sort((a, b) => a - b);
  const least = gaps[busy.length - MOST_BUSY - 1];
  const merged: Busy[] = [];
  for (const each of busy) {
    const last = merged[merged.length - 1];
    if (last && each.from - last.until <= least) last.until = each.until;
    else merged.push({ ...each });
  }
  return merged;
}

/** Overlapping stretches of several runs as one ascending list. */
export function mergeBusy(all: readonly Busy[]): Busy[] {
  const merged: Busy[] = [];
  for (const each of [...all].sort((a, b) => a.from - b.from)) {
    const last = merged[merged.length - 1];
    if (last && each.from <= last.until) last.until = Math.max(last.until, each.until);
    else merged.push({ ...each });
  }
  return merged;
}

/** The least first, by a rank that may change only for the top (`sink`); ranks stand beside the items, so that comparing is cheap. */
class Heap<T> {
  private readonly items: T[] = [];
  private readonly ranks: number[] = [];
  get top(): T | undefined {
    return this.items[0];
  }
  push(item: T, rank: number): void {
    const { items, ranks } = this;
    let i = items.length;
    items.push(item);
    ranks.push(rank);
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (ranks[up] <= rank) break;
      items[i] = items[up];
      ranks[i] = ranks[up];
      i = up;
    }
    items[i] = item;
    ranks[i] = rank;
  }
  pop(): T {
    const { items, ranks } = this;
    const [top] = items;
    const last = items.pop() as T;
    const rank = ranks.pop() as number;
    if (items.length > 0) {
      items[0] = last;
      this.sink(rank);
    }
    return top;
  }
  sink(own: number): void {
    const { items, ranks } = this;
    const { length } = ranks;
    const sinking = items[0];
    let i = 0;
    for (;;) {
      let least = 2 * i + 1;
      if (least >= length) break;
      if (least + 1 < length && ranks[least + 1] < ranks[least]) least += 1;
      if (own <= ranks[least]) break;
      // the gap moves down, and what sinks is put into it once
      items[i] = items[least];
      ranks[i] = ranks[least];
      i = least;
    }
    items[i] = sinking;
    ranks[i] = own;
  }
}
