import { SETTLED } from '../../core/line/unanswered';
import { askAt, foundOut, type LostPart } from '../../core/line/look-up';
import { iso } from '../../core/clock';
import type { Resolved } from '../../core/line/entries';
import type { Db } from '../db/db';
import { rouse } from '../desk/job-queries';
import type { Work } from '../desk/job-runner';
import type { Gateway } from './gateway';
import type { LineDriver } from './line/driver';

const DAY = 86_400_000;
/** Without a line there is nobody to ask; a new one asks at once, and another process may have it, ms. */
const NO_LINE = 60_000;
const PIECE = 50;

interface Lost {
  outbound_id: number;
  part_no: number;
  number: string;
  reference: number;
  written_at: string;
  attempts: number;
}

/**
 * Asks the carrier about every part whose answer was lost. Only its own word moves one: it has it (then receipts decide), or it
 * never got it (then, and only then, the part may be handed over again). A carrier that cannot say leaves it uncertain, and
 * it is never sent again by itself. The job of the kind `look up`: made due by the posting that leaves such a part, and at each new line.
 */
export function lookUpWork(db: Db, gateway: Gateway, line: LineDriver): Work {
  // by the line that could not say: a new one is asked anew
  let cannotSay: number | undefined;
  return async ({ now, over, stillMine }) => {
    if (gateway.state.state !== 'connected') return { again: now() + NO_LINE };
    const thisLine = gateway.state.since;
    if (cannotSay === thisLine) return { done: true };
    const began = now();
    // by the counters of the runs first: only runs that have such texts are looked through
    const { rows } = await db.query<Lost>(
      `SELECT p.outbound_id, p.part_no, p.number, p.reference, p.written_at, p.attempts FROM outbound o JOIN outbound_part p ON p.outbound_id = o.id
       WHERE (o.run_id IN (SELECT run_id FROM run_tally WHERE state IN ('uncertain', 'handing_over', 'not_delivered', 'expired') AND people > 0) OR o.run_id IS NULL)
         AND o.handed_at > $1::timestamptz AND o.state IN ('uncertain', 'handing_over', 'not_delivered', 'expired')
         AND p.state = 'uncertain' AND p.message_id IS NULL AND p.written_at > $1::timestamptz ORDER BY p.outbound_id, p.part_no LIMIT 2000`,
      [iso(began - DAY)],
    );
    const due = rows.filter((part) => (askAt(lostOf(part), began) ?? Infinity) <= began);
    for (let i = 0; i < due.length; i += PIECE) {
      if (over()) return { again: now() };
      const asked = await askAbout(gateway, due.slice(i, i + PIECE), began);
      await line.resolved(asked.resolved);
      if (asked.cannotSay) {
        cannotSay = thisLine;
        return { done: true };
      }
      await stillMine();
    }
    return due.length < rows.length || rows.length === 2000 ? { again: now() + SETTLED } : { done: true };
  };
}

const lostOf = (part: Lost): LostPart => ({
  text: part.outbound_id,
  no: part.part_no,
  state: 'uncertain',
  messageId: null,
  writtenAt: Date.parse(part.written_at),
  attempts: part.attempts,
});

async function askAbout(
  gateway: Gateway,
  parts: readonly Lost[],
  now: number,
): Promise<{ resolved: Resolved[]; cannotSay: boolean }> {
  const resolved: Resolved[] = [];
  for (const part of parts) {
    const answer = await gateway.lookUp(part.number, part.reference);
    if (answer === 'unknown') return { resolved, cannotSay: true };
    resolved.push(foundOut(lostOf(part), answer, now));
  }
  return { resolved, cannotSay: false };
}

/** A new line to the carrier: what was lost with the one before is asked about at once. */
export function lookUpAtEachLine(db: Db, gateway: Gateway, now: () => number, failed: (error: unknown) => void): void {
  gateway.on('state', ({ state }) => {
    if (state === 'connected') void rouse(db.lane('dispatch'), 'look up', now()).catch(failed);
  });
}
