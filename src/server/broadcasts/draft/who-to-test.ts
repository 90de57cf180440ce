import { gate } from '../../../core/gate/gate';
import { factsOf, singleText } from '../../../core/gate/facts-of';
import { HoursBook } from '../../../core/gate/hours';
import type { WorkspaceHours } from '../../../core/gate/hours-of';
import { iso } from '../../../core/clock';
import { Refusal } from '../../../core/api/refusal';

/** A test is looked at while one writes: beyond so long nobody waits for it, ms. */
export const TEST_USEFUL = 10 * 60_000;

export interface TestTo {
  name: string;
  number: string;
  /** One's own: whoever presses is awake, and asked for it. */
  own: boolean;
}

/** Whom it is texted to now, and for whom it is no hour to be texted, with when it is one. */
export interface WhoToTest {
  now: TestTo[];
  /** ISO 8601; null where none comes that is known. */
  later: { name: string; at: string | null }[];
}

/**
 * Numbers of the desk are texted tests in the hours that hold for anybody, by the gate that is asked again when it goes; one's own at any.
 * @throws Refusal where there is nobody, or nobody now
 */
export function whoToTest(all: readonly TestTo[], workspace: WorkspaceHours, now: number): WhoToTest {
  if (all.length === 0) throw new Refusal('wrong', 'no-number', 'Nobody is chosen to text it to.', { place: 'testers' });
  const book = new HoursBook();
  const who: WhoToTest = { now: [], later: [] };
  for (const each of all) {
    const facts = singleText({
      kind: 'test',
      number: each.number,
      zone: null,
      zone_guessed: null,
      quiet: null,
      wrote: each.own,
      // when it would go, were it of use that long
      not_after: now + 3 * 86_400_000,
    });
    const answer = gate(factsOf(facts, workspace, now), now, book);
    if (answer.kind === 'go') who.now.push(each);
    else who.later.push({ name: each.name, at: answer.kind === 'later' ? iso(answer.at) : null });
  }
  if (who.now.length > 0) return who;
  const [first] = who.later;
  const names = first.name + (who.later.length > 1 ? ` and ${who.later.length - 1} more` : '');
  throw new Refusal('wrong', 'no-hour', `This is no hour to text ${names}. Nothing was sent.`, {
    place: 'testers',
    kept: 'What you wrote is kept.',
    act: 'Text it to yourself, which goes at any hour, or wait until quiet hours are over.',
  });
}
