import type { PlanSummary } from '../api/plan';
import type { HoursBook } from '../gate/hours';
import type { Draft } from './draft';
import type { PlanCodes } from './codes';
import type { Copy, DeskNumber } from './copies';
import type { History } from './history';
import type { DummyLink } from './links';
import type { PlanPerson, PlanSender, PlanWorkspace } from './person';
import type { DropReason, Reach } from './reach';
import type { Busy } from './timetable';
import type { Rate } from './destinations';
import type { PlanTexts } from './texts';
import type { When } from './when';
import type { Shape } from './shape';
import type { Writer } from './writer';

export interface Plan {
  summary: PlanSummary;
  texts: PlanTexts;
  dropped: Record<DropReason | 'too_late', PlanPerson[]>;
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
  copies: Copy[];
  rates: readonly Rate[];
  /** People that a remark speaks of, by its step, each step with why. */
  hinted: ReadonlyMap<string, { why: string; people: readonly PlanPerson[] }>;
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
