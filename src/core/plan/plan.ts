import type { PlanSummary } from '../api/sending/plan';
import type { HoursBook } from '../gate/hours';
import type { Draft } from './draft/draft';
import type { PlanCodes } from './words/codes';
import type { Copy, DeskNumber } from './reach/copies';
import type { History } from './reach/history';
import type { DummyLink } from './draft/links';
import type { PlanPerson, PlanSender, PlanWorkspace } from './reach/person';
import type { LeftOutStep, Reach } from './reach/reach';
import type { Busy } from './times/timetable';
import type { Rate } from './money/destinations';
import type { PlanTexts } from './words/texts';
import type { When } from './times/when';
import type { Shape } from './times/shape';
import type { Writer } from './words/writer';

export interface Plan {
  summary: PlanSummary;
  texts: PlanTexts;
  dropped: Record<LeftOutStep, PlanPerson[]>;
  reach: Reach<PlanPerson>;
  digest: string;
  /** The digest without the times of a start at once, and those times. */
  content: string;
  shape: Shape;
  busy: Busy[];
  base: number;
  /** How many wait for a later window; what a start at once is compared by. */
  spilled: number;
  links: DummyLink[];
  /** Its words name a day that moves with the day of sending. */
  dated: boolean;
  copies: Copy[];
  rates: readonly Rate[];
  /** People that a remark speaks of, by its step, each step with why. */
  hinted: ReadonlyMap<string, { why: string | ((person: PlanPerson) => string); people: readonly PlanPerson[] }>;
  /** The same texts begun at another moment: new due times, or undefined when that changes more than the times. */
  relay(base: number): { due: Float64Array; busy: Busy[]; spilled: number } | undefined;
}

export interface PlanAsked {
  draft: Draft;
  now: number;
  workspace: PlanWorkspace;
  sender: PlanSender | null;
  writer: Writer;
  when: When;
  /** Planned by the server in each one's own time: where the time is past by no more than so long (ms), it goes at once. */
  lateBy?: number;
  rates: readonly Rate[];
  balance: number;
  reach: Reach<PlanPerson>;
  steppedIn: number;
  canStepIn: number;
  /** The codes of the list that is chosen, where the words give one. */
  codes?: PlanCodes;
  history?: History;
  /** Who of the desk gets a copy. */
  desk?: readonly DeskNumber[];
  gone: readonly string[];
  filling: readonly { name: string; side: 'to' | 'leave_out' }[];
  /** When the sender's line is full with other runs. */
  busy: readonly Busy[];
  book: HoursBook;
  hash(): { update(text: string): unknown; digest(encoding: 'hex'): string };
}
