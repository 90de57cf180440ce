import type { Logger } from 'pino';
import type { MovableClock } from './clock';
import type { Db } from './db/db';
import type { Plans } from './broadcasts/planning/plan-thread';
import type { Storing } from './broadcasts/press/presser';
import type { LeasedJob } from './desk/job-queries';
import type { Bus } from './desk/bus';
import type { Engine } from './engine/engine';
import type { ImportDesk } from './people/imports/import-desk';
import type { HandedIn } from './handed-in/handed-in';
import type { Devices } from './http/devices';

/** What every route may use. */
export interface App {
  db: Db;
  clock: MovableClock;
  bus: Bus;
  engine: Engine;
  /** The compute thread that makes plans. */
  plans: Plans;
  /** Plans of this process that are being stored, and how the job begins that stores one. */
  storing: Storing;
  give(job: LeasedJob): void;
  log: Logger;
  imports: ImportDesk;
  devices: Devices;
  /** The thread in which what others hand in is read. */
  handedIn: HandedIn;
  /** The practice carrier's desk, while it is the one connected. */
  practice: { url: string } | undefined;
  /** The practice mailbox, while it stands in for a mail server, and the port at which answers by mail are taken in. */
  mail?: { practicePort: () => number | undefined; answersPort: number | undefined };
  /** The demo runs on a clock of its own that can be moved. */
  demo: boolean;
  /** Moves it forward by ms, also after a restart. */
  moveClock(ms: number): Promise<void>;
  /** What stands before the server and may say who asks, as Express has it; nothing, unless it was set. */
  trustProxy?: string | number | boolean;
  /** Every answer is held against its schema: in tests. */
  checkAnswers?: boolean;
}
