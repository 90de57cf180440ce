import type { Db } from '../db/db';
import { repliesWork, replyWork } from './replies/reply-work';
import { tellDutyWork, watchWork } from './runs/alarms';
import type { Bus } from '../desk/bus';
import { clearRunWork } from './runs/clear-run';
import { cleanListsWork, endRunWork, type CountAhead } from './runs/end-run';
import { startRunWork } from './runs/start-run';
import type { Gateway } from './gateway';
import type { LineDriver } from './line/driver';
import { lookUpWork } from './lookup';
import { passOnWork } from './passing/pass-on';
import { trimWork } from './trim';
import { forgottenWork, incompleteWork } from './upkeep';
import { want, type JobKind } from '../desk/job-queries';
import type { Work } from '../desk/job-runner';

/** What the jobs of a process work with. */
export interface Desk {
  db: Db;
  bus: Bus;
  gateway: Gateway;
  line: LineDriver;
  /** The practice mailbox, while it stands in for a mail server. */
  practiceMail: () => number | undefined;
  countAhead: CountAhead;
  /** The work of areas that know of the engine, and not it of them. */
  later: LaterWorks;
}

/** Given by whoever starts the engine. */
export type LaterWorks = Readonly<Record<'store run' | 'plan next' | 'erase', Work>>;

/** The work of every kind, each beside what it is about. To add one: a name in `JOB_KINDS`, its work, a line here. */
export function worksOf({ db, bus, gateway, line, practiceMail, countAhead, later }: Desk): Readonly<Record<JobKind, Work>> {
  const lane = db.lane('dispatch');
  return {
    replies: repliesWork(lane, bus),
    reply: replyWork(lane, bus),
    incomplete: incompleteWork(bus),
    'pass on': passOnWork(lane, bus, practiceMail),
    'look up': lookUpWork(lane, gateway, line),
    forgotten: forgottenWork(lane, line),
    ...later,
    'start run': startRunWork(lane, bus),
    'end run': endRunWork(lane, bus, countAhead),
    'clear run': clearRunWork(lane, bus),
    'clean lists': cleanListsWork(bus),
    watch: watchWork(lane, bus),
    'tell duty': tellDutyWork(bus),
    trim: trimWork(lane),
  };
}

/** Work that is always there, once each; asked for at every start. */
export async function wantStanding(db: Db, now: number): Promise<void> {
  await db.transaction((tx) =>
    want(tx, [
      { kind: 'forgotten', due: now },
      { kind: 'trim', due: now },
      { kind: 'watch', due: now },
      { kind: 'incomplete', due: now },
    ]),
  );
}
