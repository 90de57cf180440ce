import type { Today } from '../../../core/audience/decide';
import type { Draft } from '../../../core/plan/draft/draft';
import type { PlanPerson, PlanWorkspace } from '../../../core/plan/reach/person';
import { CANNOT_BE_TEXTED, decideReach, type Reach, type ReachRules } from '../../../core/plan/reach/reach';
import type { Writer } from '../../../core/plan/words/writer';
import type { Queryable } from '../../db/db';
import { sealed } from '../../db/sealed';
import { nextContacts, peopleOf, unreachableNumbers } from './audience';
import type { Kept, Loading } from './load-people';
import type { Naming } from './named';
import { namedBy } from './naming';

export interface Audience {
  reach: Reach<PlanPerson>;
  /** Next contacts who get it because the one before them cannot be texted. */
  steppedIn: number;
  canStepIn: number;
}

/** A family has at most so many contacts in a row that are tried. */
const MOST_CONTACTS = 9;

/** Who: everyone the draft names, decided one by one, with the next contacts of those who cannot be texted. */
export async function loadAudience(db: Queryable, draft: Draft, writer: Writer, today: Today, kept: Kept): Promise<Audience> {
  const { notices } = (await db.query<{ notices: PlanWorkspace['notices'] }>(`SELECT notices FROM workspace`)).rows[0];
  const needsYes = draft.purpose === 'marketing' || notices === 'granted';
  const loading: Loading = {
    purpose: draft.purpose,
    needsYes,
    fields: writer.fields,
    dependantFields: writer.dependantFields,
    about: draft.about,
  };
  const people = await peopleOf(db, await namedBy(db, draft.to, draft.purpose, today), loading, today, kept);
  const out = await peopleOf(
    db,
    await namedBy(db, draft.leave_out, draft.purpose, today),
    { ...loading, fields: [], dependantFields: [], about: undefined },
    today,
  );
  const numbers = async (table: 'suppression' | 'number_held') =>
    new Set((await db.query<{ number: string }>(`SELECT number FROM ${table}`)).rows.map((row) => row.number));
  const rules: ReachRules = {
    purpose: draft.purpose,
    needsYes,
    leaveOut: new Set(out.filter((each) => each.known).map((each) => each.id)),
    leaveOutBarred: draft.barred === 'leave_out',
    leaveOutNumbers: new Set(out.flatMap((each) => each.number ?? [])),
    unticked: new Set(draft.unticked),
    untickedNumbers: new Set(draft.unticked_numbers ?? []),
    register: await withSealed(db, await numbers('suppression')),
    undecided: await numbers('number_held'),
    unreachable: draft.leave_out.some((source) => source.kind === 'unreachable')
      ? await unreachableNumbers(
          db,
          people.flatMap((each) => each.number ?? []),
        )
      : new Set(),
  };
  // someone who must not hear about a child may still hear what is not about children
  const decideFor = (some: readonly PlanPerson[]) =>
    decideReach(writer.aboutDependants ? some : some.map((each) => (each.mustNot ? { ...each, mustNot: false } : each)), rules);
  const reach = decideFor(people);
  const stepped = await stepIn(db, people, reach, decideFor, (named) => peopleOf(db, named, loading, today, kept));
  const steppedIn = stepped.willGet.length - reach.willGet.length;
  return draft.second_contacts
    ? { reach: stepped, steppedIn, canStepIn: steppedIn }
    : { reach, steppedIn: 0, canStepIn: steppedIn };
}

/** The register, with the numbers of people who were erased: those are known by their hash only. */
async function withSealed(db: Queryable, register: ReadonlySet<string>): Promise<ReachRules['register']> {
  const hashes = new Set((await db.query<{ hash: string }>(`SELECT hash FROM register_sealed`)).rows.map(({ hash }) => hash));
  return hashes.size === 0 ? register : { has: (number) => register.has(number) || hashes.has(sealed(number)) };
}

/** Asks the next contact, and the next after that, until each dependant has one who can be texted or none is left. */
async function stepIn(
  db: Queryable,
  people: readonly PlanPerson[],
  first: Reach<PlanPerson>,
  decideFor: (some: readonly PlanPerson[]) => Reach<PlanPerson>,
  load: (named: readonly Naming[]) => Promise<PlanPerson[]>,
): Promise<Reach<PlanPerson>> {
  let all = people;
  let reach = first;
  const tried = new Set<number>();
  for (let round = 0; round < MOST_CONTACTS; round += 1) {
    const cannot = CANNOT_BE_TEXTED.flatMap((reason) => reach.dropped[reason]);
    for (const person of cannot) tried.add(person.id);
    const next = await nextContacts(db, cannot, reach.willGet, tried);
    if (next.length === 0) break;
    for (const { id } of next) tried.add(id);
    all = [...all, ...(await load(next))];
    reach = decideFor(all);
  }
  return reach;
}
