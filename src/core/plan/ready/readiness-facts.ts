import type { PlanSummary } from '../../api/sending/plan';
import type { PlanCodes } from '../words/codes';
import type { Draft } from '../draft/draft';
import { type History } from '../reach/history';
import type { Pace } from '../times/pace';
import type { PlanPerson, PlanSender, PlanWorkspace } from '../reach/person';
import type { When } from '../times/when';
import { opensOnlyHere } from '../draft/web-address';
import type { Writer } from '../words/writer';

type Place = PlanSummary['must_fix'][number]['place'];

/** What the checks look at: everything the stages before have found out. */
export interface ReadinessFacts {
  draft: Draft;
  workspace: PlanWorkspace;
  sender: PlanSender | null;
  writer: Writer;
  when: When;
  chosen: number;
  people: number;
  cost: number;
  balance: number;
  first: number | null;
  last: number | null;
  /** Field name → people who have no value and no fallback. */
  missing: ReadonlyMap<string, readonly unknown[]>;
  tooLong: number;
  /** The longest text that anyone gets, parts; and how many texts have extended characters. */
  longest: number;
  extended: number;
  unpriced: ReadonlySet<string>;
  /** Of those who get it, how many later than an hour after the start because their hours are shut then. */
  delayed: number;
  /** People who wait for a later window because the sender's line cannot take all in the first. */
  spilled: number;
  extra: { parts: number; cost: number };
  languages: PlanSummary['languages'];
  pace: Pace;
  history: History | undefined;
  /** Recipients who have had many texts in the last days. */
  textedMuch: number;
  codes: PlanCodes | undefined;
  /** How many would get a code. */
  needed: number;
  /** Of those who get it, who must not hear about some dependant, while it is not known for whom they were chosen. */
  barred: readonly PlanPerson[];
  /** How many dependants the texts name; and whose name all that they have, since nobody knows for whom they are there. */
  naming: { dependants: number; all: readonly PlanPerson[] };
  /** Of those whom a file names, whose number is somebody's here under another name. */
  otherwise: readonly PlanPerson[];
  /** Lists, tags and segments that were deleted, in words; and those that are still being filled. */
  gone: readonly string[];
  filling: readonly { name: string; side: 'to' | 'leave_out' }[];
}

/** One thing that must be fixed, or is worth saying: where, in words, and what to do about it. */
export interface Finding {
  place: Place;
  message: string;
  fix?: string;
  /** The step of the reach ledger that lists its people. */
  step?: string;
  /** A time that could be taken instead, on the workspace's wall clock. */
  instead?: { date: string; time: string };
}

/** One check by its name. */
export interface Check {
  name: string;
  find(facts: ReadinessFacts): Finding[];
}

/** So many people, with what they are or have. */
export const counted = (n: number, is: string, are: string) => `${n.toLocaleString('en-US')} ${n === 1 ? is : are}`;

/** One finding where something is so, else none. */
export const one = (wrong: boolean, place: Place, message: () => string, fix?: string): Finding[] =>
  wrong ? [{ place, message: message(), fix }] : [];

/** What everyone reads of it in the first language: the words, and how they opt out. */
export function shownWords({ draft, writer, workspace }: ReadinessFacts): string {
  return `${draft.words} ${writer.optOut(workspace.languages[0])}`;
}

/** Nothing says how to opt out. */
export function noWayOut(facts: ReadinessFacts): Finding[] {
  const { draft, sender } = facts;
  return one(
    sender !== null && draft.words.trim() !== '' && !/\bstop\b|\balto\b|opt_out_link|\/o\//i.test(shownWords(facts)),
    'words',
    () => 'The text does not say how to opt out.',
  );
}

/** Its texts have a link, and it leads to where nobody else gets. */
export function leadsOnlyHere({ writer, workspace }: ReadinessFacts): Finding[] {
  return one(
    writer.links.length > 0 && opensOnlyHere(workspace.public_address),
    'words',
    () => `Its links lead to ${workspace.public_address.replace(/^https?:\/\//, '')}, which nobody else can open.`,
    'Say in Setup at which address others get here.',
  );
}
