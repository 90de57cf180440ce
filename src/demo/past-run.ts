import { measure } from '../core/text/measure';
import { EMPTY_DRAFT, type Draft } from '../core/plan/draft/draft';
import { fold } from '../core/text/fold';
import type { Param } from '../server/db/db';
import { seeded, type Chance } from './chance';
import { ANSWERS, CHOICES, type Past } from './past';
import type { DemoPerson } from './people';

/** Rows of a table, each by the names of its columns. */
export type Rows = Record<string, Param>[];

/** What was sent, as the engine would have left it in its tables. */
export interface Sent {
  broadcast: Rows;
  run: Rows;
  outbound: Rows;
  outbound_part: Rows;
  balance_entry: Rows;
  inbound: Rows;
  link: Rows;
}

/** What a past run is made from. */
export interface PastWorld {
  people: readonly DemoPerson[];
  /** Who said stop, and when: nobody is texted after that. */
  stops: ReadonlyMap<string, number>;
  /** Who was there on a day. */
  here: (person: DemoPerson, daysAgo: number) => boolean;
  /** Ids of the lists by their names. */
  lists: ReadonlyMap<string, number>;
  /** Where links lead. */
  address: string;
  now: number;
  midnight: number;
  chance: Chance;
  /** Of their own, so that the rest of Ottermere stays as it is. */
  clicks: Chance;
}

const PRICE = 7500;
const SENDER = 1;
const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';

/** A token for an old link: of the alphabet and length of a real one, and the same on every machine. */
function linkToken(n: number): string {
  const own = seeded(n * 7919);
  return Array.from({ length: 12 }, () => own.pick([...LETTERS])).join('');
}

const iso = (at: number) => new Date(at).toISOString();

interface Handed {
  id: number;
  number: string;
  person: DemoPerson;
  token: string;
  at: number;
  state: string;
}

/** Adds a run of the past to what was sent. `filtered`: it ran into the carrier's filter, and most of it came back. */
export function addPastRun(sent: Sent, each: Past, world: PastWorld, filtered: boolean): void {
  const runId = sent.run.length + 1;
  const due = world.midnight - each.daysAgo * 86_400_000 + each.at * 60_000;
  const audience = new Map(
    world.people
      .filter(
        (p) =>
          p.lists.includes(each.list) &&
          p.number?.startsWith('+1') &&
          !((world.stops.get(p.number) ?? Infinity) < due) &&
          world.here(p, each.daysAgo),
      )
      .map((p) => [p.number ?? '', p]),
  );
  let parts = 0;
  let last = due;
  for (const [at, [number, person]] of [...audience].entries()) {
    const id = sent.outbound.length + 1;
    const handed = { id, number, person, token: each.link ? linkToken(id) : '', at: due + Math.floor(at / 40) * 1000 };
    last = handed.at;
    const text = addText(sent, each, handed, world, { runId, due, filtered });
    parts += text.parts;
    if (each.link) addLink(sent, each.link, { ...handed, state: text.state }, world, runId);
    addAnswer(sent, each, { ...handed, state: text.state }, world, runId);
  }
  addRun(sent, each, world, { runId, due, last, count: audience.size, parts });
}

/** A text with its parts, and what became of them. */
function addText(
  sent: Sent,
  each: Past,
  { id, number, person, token, at }: Omit<Handed, 'state'>,
  { chance, address, now }: PastWorld,
  run: { runId: number; due: number; filtered: boolean },
): { state: string; parts: number } {
  const body = each.words(person).replace(/\{link \w+\}/, `${address}/l/${token}`);
  const { alphabet, parts } = measure(body);
  const roll = chance.next();
  const filtered = run.filtered && Number(number.slice(-1)) < 6;
  const bad = filtered || number.endsWith('37') || roll < 0.008;
  const state = bad ? 'not_delivered' : roll < 0.011 ? 'expired' : 'delivered';
  const final = state === 'expired' ? at + 86_400_000 : at + 900 + Math.floor(chance.next() ** 3 * 28_000);
  const known = { not_delivered: 'number does not exist', expired: 'the phone was off too long', delivered: null };
  const reason = filtered ? 'refused by the carrier' : known[state];
  const final_at = final > now ? null : iso(final);
  const shown = state === 'expired' && final_at === null ? 'with_carrier' : state;
  sent.outbound.push({
    id,
    run_id: run.runId,
    kind: 'run',
    person_id: person.id,
    number,
    sender_id: SENDER,
    body,
    alphabet,
    parts,
    cost_micro: parts * PRICE,
    due_at: iso(at),
    not_after: iso(run.due + 43_200_000),
    state: shown,
    reason: shown === 'with_carrier' ? null : reason,
    handed_at: iso(at),
    final_at,
    billed: parts,
  });
  for (let part_no = 1; part_no <= parts; part_no += 1) {
    const partId = sent.outbound_part.length + 1;
    sent.outbound_part.push({
      outbound_id: id,
      part_no,
      number,
      state: shown,
      reference: (partId % 65_535) + 1,
      message_id: `h${partId}`,
      reason,
      written_at: iso(at),
      accepted_at: iso(at + 60),
      final_at,
    });
  }
  return { state, parts };
}

/** Some follow a link within the day, and a few phones look before anyone does. */
function addLink(
  sent: Sent,
  link: { name: string; address: string },
  { id, number, token, at, state }: Handed,
  { clicks, now }: PastWorld,
  runId: number,
): void {
  const follows = state === 'delivered' && clicks.chance(0.21);
  const clicked = at + 60_000 + Math.floor(clicks.next() ** 2 * 36_000_000);
  const looked = clicks.chance(0.04);
  const opened = follows && clicked < now;
  sent.link.push({
    token,
    run_id: runId,
    outbound_id: id,
    number,
    ...link,
    clicked_at: opened ? iso(clicked) : null,
    opens: opened ? clicks.int(1, 3) : 0,
    machine_at: looked ? iso(at + 4000) : null,
  });
}

/** What some answer: to a question with one of its choices, else whatever they like. */
function addAnswer(
  sent: Sent,
  each: Past,
  { number, person, at, state }: Handed,
  { chance, clicks }: PastWorld,
  runId: number,
): void {
  const answered = (said: string, received: number, done: number) =>
    sent.inbound.push({
      received_at: iso(received),
      number,
      to_address: '72345',
      body: said,
      folded: fold(said),
      kind: 'reply',
      person_id: person.id,
      run_id: runId,
      done_at: iso(done),
      applied: true,
    });
  if (each.asks && state === 'delivered' && clicks.chance(0.42)) {
    const received = at + 90_000 + Math.floor(clicks.next() ** 2 * 14_000_000);
    const drawn = clicks.pick(CHOICES);
    answered(drawn.length > 20 && clicks.chance(0.75) ? '1' : drawn, received, received);
  } else if (state === 'delivered' && chance.chance(0.012)) {
    const received = at + chance.int(60, 5400) * 1000;
    const said = chance.pick(ANSWERS);
    answered(said, received, received + chance.int(2, 90) * 60_000);
  }
}

/** The broadcast that was written, its run, and what was paid for it. */
function addRun(
  sent: Sent,
  each: Past,
  { lists, now }: PastWorld,
  { runId, due, last, count, parts }: { runId: number; due: number; last: number; count: number; parts: number },
): void {
  const at = iso(due);
  const draft: Draft = {
    ...EMPTY_DRAFT,
    to: [{ kind: 'list', id: lists.get(each.list) ?? 0 }],
    words: each.template,
    sender_id: SENDER,
    ...(each.link ? { links: [each.link] } : {}),
  };
  sent.broadcast.push({
    id: runId,
    name: each.name,
    state: 'ended',
    draft: JSON.stringify(draft),
    account_id: 1,
    created_at: iso(due - 900_000),
    updated_at: at,
    labels: JSON.stringify([each.label]),
  });
  const end = iso(Math.min(now, last + 30_000));
  sent.run.push({
    id: runId,
    broadcast_id: runId,
    state: 'finished',
    press_id: `past-${runId}`,
    digest: '',
    words: each.template,
    name: each.name,
    sender_id: SENDER,
    purpose: 'service',
    people: count,
    parts,
    cost_micro: parts * PRICE,
    takeback_until: at,
    due_at: at,
    last_due_at: iso(last),
    not_after: iso(due + 43_200_000),
    pressed_at: iso(due - 60_000),
    account_id: 1,
    started_at: at,
    ended_at: end,
  });
  sent.balance_entry.push({ at: end, kind: 'spend', amount_micro: -parts * PRICE, run_id: runId, note: '' });
}
