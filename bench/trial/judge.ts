import { join } from 'node:path';
import { readJournal } from '../../src/carrier/journal';
import { readPart } from '../../src/core/text/air';
import type { KilledDesk } from '../../harness/killed-desk';
import { decodePdu } from '../../src/smpp/pdu';
import type { Promised } from './acts';

interface RunRow {
  id: number;
  state: string;
  people: number;
  due_at: string;
  ended_at: string | null;
  tally: Tally;
  words: string;
}

/** What the carrier took has not its last word. */
const open = ({ tally }: RunRow) => MOVING.some((state) => (tally[state] ?? 0) > 0);
const MOVING = ['planned', 'handing_over', 'with_carrier', 'uncertain'] as const;
type Tally = Partial<Record<(typeof MOVING)[number] | 'delivered' | 'not_delivered' | 'not_sent', number>>;

/** Price of one part in the demo, millionths. */
const PART = 7500;

/** What the carrier took since a place in its journal: how often each number got each text, and how many parts that were. */
export function takenSince(
  folder: string,
  from: number,
): { lines: number; parts: number; texts: { number: string; text: string }[] } {
  let lines = 0;
  let parts = 0;
  const texts: { number: string; text: string }[] = [];
  for (const line of readJournal(join(folder, 'carrier.journal'))) {
    lines += 1;
    if (lines <= from || line.what !== 'submit') continue;
    const pdu = decodePdu(Buffer.from(line.pdu, 'hex'));
    if (pdu.command !== 'submit_sm') continue;
    parts += 1;
    texts.push({ number: line.number, text: readPart(pdu.fields).text });
  }
  return { lines, parts, texts };
}

/** What of a repeated broadcast was due by now has come to its end. */
export async function dayOver(desk: KilledDesk, { broadcast, words }: Promised): Promise<boolean> {
  const { now } = await desk.ask<{ now: string }>('GET', '/api/session');
  const { run, goes_on, next_at } = await desk.ask<{
    run: { state: string; due_at: string } | null;
    goes_on: boolean;
    next_at: string | null;
  }>('GET', `/api/broadcasts/${broadcast}`);
  if (goes_on && next_at !== null && next_at <= now) return false;
  const toCome = run?.state === 'waiting' && run.due_at > now;
  if (run !== null && !toCome && !['finished', 'stopped', 'missed'].includes(run.state)) return false;
  const { runs } = await desk.ask<{ runs: RunRow[] }>('GET', `/api/outcomes?search=${encodeURIComponent(words)}`);
  return runs.every((each) => each.ended_at !== null && !open(each));
}

/** Every run of a broadcast has its end, and nothing more of it is to come. */
export async function settled(desk: KilledDesk, { broadcast, words, got }: Promised): Promise<RunRow[] | false> {
  const { state, goes_on, run } = await desk.ask<{ state: string; goes_on: boolean; run: { state: string } | null }>(
    'GET',
    `/api/broadcasts/${broadcast}`,
  );
  const going = run !== null && !['finished', 'stopped', 'missed'].includes(run.state);
  if (got === 'by date' && goes_on) return false;
  if (going || (got === 'all' && run === null)) return false;
  if (state === 'draft' && got === 'all') return [];
  const { runs } = await desk.ask<{ runs: RunRow[] }>('GET', `/api/outcomes?search=${encodeURIComponent(words)}`);
  return runs.every((each) => each.ended_at !== null && !open(each)) && runs;
}

/** What was promised of a broadcast and is not so, in words. */
export function broken(
  promised: Promised,
  runs: readonly RunRow[],
  texts: readonly { number: string; text: string }[],
): string[] {
  const { words, got } = promised;
  const counts = new Map<string, number>();
  for (const { number, text } of texts) if (text.startsWith(words)) counts.set(number, (counts.get(number) ?? 0) + 1);
  const went = [...counts.values()].reduce((a, b) => a + b, 0);
  if (got === 'none') return went > 0 ? [`“${words}” was taken back, and ${went} went`] : [];
  const wrong: string[] = [];
  if (runs.length !== promised.runs) wrong.push(`“${words}” has ${runs.length} runs and misses instead of ${promised.runs}`);
  const begun = runs.filter((each) => each.state !== 'missed');
  const twice = [...counts].filter(([, n]) => n > begun.length);
  if (twice.length > 0) wrong.push(`“${words}” came too often to ${twice.map(([number]) => number).join(', ')}`);
  const sum = (of: (tally: Tally) => number) => begun.reduce((total, { tally }) => total + of(tally), 0);
  for (const { id, people, tally } of begun) {
    const all = Object.values(tally).reduce((a, b) => a + b, 0);
    if (all !== people) wrong.push(`run ${id} of “${words}” has ${people} people, and accounts for ${all}`);
    if ((tally.uncertain ?? 0) > 0) wrong.push(`${tally.uncertain} of run ${id} stay uncertain`);
    if (got === 'all' && tally.delivered !== people)
      wrong.push(`run ${id} of “${words}” reached ${tally.delivered} of ${people}: ${JSON.stringify(tally)}`);
  }
  const delivered = sum((tally) => tally.delivered ?? 0);
  if (delivered !== went) wrong.push(`“${words}”: ${delivered} delivered by the desk, ${went} by the carrier's journal`);
  if (got === 'all' && begun.length === 0) wrong.push(`“${words}” has no run`);
  return wrong;
}

/** @param spent by the ledger, millionths */
export const brokenMoney = (spent: number, parts: number): string[] =>
  spent === parts * PART ? [] : [`${spent} paid, ${parts * PART} taken`];
