import type { PlanSummary } from '../api/plan';
import { languageName } from '../text/language';
import { MOST_PARTS } from '../text/measure';
import type { PlanCodes } from './codes';
import type { Draft } from './draft';
import { linksOf } from './links';
import { shortOf } from './balance';
import { contradicting, LATELY_DAYS, MUCH, onTheSameMatter, unusualSize, type History } from './history';
import { showMoney } from './money';
import type { Pace } from './pace';
import type { PlanSender, PlanWorkspace } from './person';
import type { When } from './when';
import { bareTime, relativeWord, saysWho } from './wording-hints';
import { joined, wordingsThatDiffer } from './wordings-that-differ';
import type { Writer } from './writer';
import { shownMoment, shownTime } from './shown-time';
import { wallClock } from './zones';
import { isWebAddress } from './web-address';

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

interface Check {
  name: string;
  kind: 'must' | 'hint';
  find(facts: ReadinessFacts): Finding[];
}

const DAY = 86_400_000;
const people = (n: number, is: string, are: string) => `${n.toLocaleString('en-US')} ${n === 1 ? is : are}`;
const one = (wrong: boolean, place: Place, message: () => string, fix?: string): Finding[] =>
  wrong ? [{ place, message: message(), fix }] : [];

/** Every check by name, in the order in which they are told. */
export const CHECKS: readonly Check[] = [
  { name: 'time', kind: 'must', find: ({ when }) => when.wrong.map((each) => ({ place: 'when', ...each })) },
  {
    name: 'placeholders',
    kind: 'must',
    find: ({ writer, workspace }) =>
      writer.compiled.problems.map(({ message, language }) => ({
        place: 'words',
        message: `${language === workspace.languages[0] ? '' : `${languageName(language)}: `}${message}`,
      })),
  },
  {
    name: 'no words',
    kind: 'must',
    find: ({ draft }) => one(draft.words.trim() === '', 'words', () => 'There are no words yet.'),
  },
  {
    name: 'link',
    kind: 'must',
    find: ({ draft }) => {
      const links = linksOf(draft);
      const twice = links.find(({ name }, i) => links.some((other, j) => j < i && other.name === name));
      return [
        ...links.flatMap(({ name, address }) =>
          one(
            address !== '' && !isWebAddress(address),
            'words',
            () => `The link “${name}” needs a complete address that starts with https://.`,
          ),
        ),
        ...one(twice !== undefined, 'words', () => `Two links are called “${twice?.name}”.`),
      ];
    },
  },
  {
    name: 'nobody',
    kind: 'must',
    find: ({ draft, chosen, people: n }) =>
      draft.to.length === 0
        ? [{ place: 'to', message: 'Nobody is chosen yet.' }]
        : one(n === 0, 'to', () => `Of ${chosen} chosen, nobody can get it.`),
  },
  { name: 'sender', kind: 'must', find: ({ sender }) => one(sender === null, 'from', () => 'No sender is chosen.') },
  {
    name: 'missing values',
    kind: 'must',
    find: ({ missing, writer }) =>
      // words to use instead do not help where there is no such field
      [...missing]
        .filter(([name]) => !writer.compiled.problems.some(({ unknown }) => unknown === name))
        .map(([name, those]) => ({
          place: 'words',
          step: `missing_${name}`,
          message: `${people(those.length, 'person has', 'people have')} no “${name}”. Add words to use instead: {${name} or "…"}.`,
          fix: `{${name} or "…"}`,
        })),
  },
  {
    name: 'too long',
    kind: 'must',
    find: ({ tooLong }) =>
      one(tooLong > 0, 'words', () => `${people(tooLong, 'text has', 'texts have')} more than ${MOST_PARTS} parts.`),
  },
  {
    name: 'no price',
    kind: 'must',
    find: ({ unpriced }) =>
      one(
        unpriced.size > 0,
        'cost',
        () =>
          `There is no price on the rate card for ${people(unpriced.size, 'number', 'numbers')}, such as ${[...unpriced][0]}.`,
        'Add the country to the rate card in Setup.',
      ),
  },
  {
    name: 'codes',
    kind: 'must',
    find: ({ writer, codes, needed }) => {
      if (!writer.compiled.fields.includes('code')) return [];
      if (!codes) return [{ place: 'words', message: 'The text gives a code, but no list of codes is chosen.' }];
      return one(
        codes.free < needed,
        'words',
        () =>
          `“${codes.name}” has ${people(codes.free, 'code', 'codes')} left; ${people(needed, 'person', 'people')} would get one.`,
      );
    },
  },
  { name: 'deleted', kind: 'must', find: ({ gone }) => gone.map((message) => ({ place: 'to', message })) },
  {
    name: 'being filled',
    kind: 'must',
    find: ({ filling }) =>
      filling.map(({ name, side }) => ({
        place: 'to',
        message:
          side === 'to'
            ? `People are still being brought into “${name}”.`
            : `People are still being brought into “${name}”, which is left out: some of them would still get it.`,
        fix: 'Wait until the import is done.',
      })),
  },
  {
    name: 'balance',
    kind: 'must',
    find: ({ cost, balance, workspace }) => {
      const short = shortOf(cost, balance, workspace.currency);
      return short ? [short] : [];
    },
  },
  {
    name: 'stop to a name',
    kind: 'must',
    find: (facts) =>
      one(
        facts.sender?.kind === 'name' && /\bstop\b/i.test(shownWords(facts)),
        'from',
        () => `“${facts.sender?.name}” cannot take replies, so the text must not ask for STOP: give an opt-out link instead.`,
        'Give an opt-out link instead.',
      ),
  },
  { name: 'no way out (marketing)', kind: 'must', find: (facts) => (facts.draft.purpose === 'marketing' ? noWayOut(facts) : []) },
  { name: 'no way out', kind: 'hint', find: (facts) => (facts.draft.purpose === 'service' ? noWayOut(facts) : []) },
  {
    name: 'a time that does not exist',
    kind: 'hint',
    find: ({ draft, when, workspace, first }) =>
      one(when.note === 'gap' && draft.when.kind === 'at', 'when', () => {
        const asked = draft.when.kind === 'at' ? shownTime(draft.when.time, workspace.hours) : '';
        const goes = shownTime(wallClock(first ?? when.base, workspace.zone).time, workspace.hours);
        return `The clocks go forward: ${asked} does not exist that day, so the first goes at ${goes}.`;
      }),
  },
  {
    name: 'a time that comes twice',
    kind: 'hint',
    find: ({ draft, when, workspace }) =>
      one(
        when.note === 'twice' && draft.when.kind === 'at',
        'when',
        () =>
          `The clocks go back: ${draft.when.kind === 'at' ? shownTime(draft.when.time, workspace.hours) : ''} comes twice that day, and it goes at the first.`,
      ),
  },
  {
    name: 'who it is from',
    kind: 'hint',
    find: ({ draft, workspace }) =>
      one(
        draft.words.trim() !== '' && !saysWho(draft.words, workspace.name),
        'words',
        () => `The text does not say who it is from (${workspace.name}).`,
      ),
  },
  {
    name: 'languages without wording',
    kind: 'hint',
    find: ({ languages, workspace }) => {
      const [first] = workspace.languages;
      const without = languages.filter((each) => each.people > 0 && each.worded_in !== each.language);
      return one(
        without.length > 0,
        'words',
        () =>
          `${joined(without.map((each) => `${languageName(each.language)} (${people(each.people, 'person', 'people')})`))} ${without.length === 1 ? 'gets' : 'get'} the ${languageName(first)} words.`,
      ).map((each) => ({ ...each, step: 'unworded' }));
    },
  },
  {
    name: 'wordings that differ',
    kind: 'hint',
    find: ({ writer }) => wordingsThatDiffer(writer.wordings).map((message) => ({ place: 'words', message })),
  },
  {
    name: 'words that turn false',
    kind: 'hint',
    find: ({ writer }) => {
      const all = writer.wordings.map((each) => each.words).join('\n');
      const relative = relativeWord(all);
      const bare = bareTime(all);
      return [
        ...one(relative !== undefined, 'words', () => `“${relative}” may be wrong when it is read later or in another zone.`),
        ...one(bare !== undefined, 'words', () => `“${bare}” does not say AM or PM.`),
      ];
    },
  },
  {
    name: 'unusual size',
    kind: 'hint',
    find: ({ history, people: n }) => {
      const largest = history && unusualSize(history.sizes, n);
      return one(
        largest !== undefined,
        'to',
        () =>
          `${n.toLocaleString('en-US')} people is far more than any of your last ${history?.sizes.length} broadcasts had (${largest?.toLocaleString('en-US')}).`,
      );
    },
  },
  {
    name: 'may arrive twice',
    kind: 'hint',
    find: ({ draft }) =>
      one(
        draft.to.some((source) => source.kind === 'run' && source.outcome === 'uncertain'),
        'to',
        () => 'Of some it is not known whether they have the earlier text: whoever has it gets this one, too.',
      ),
  },
  {
    name: 'texted much lately',
    kind: 'hint',
    find: ({ textedMuch }) =>
      one(
        textedMuch > 0,
        'to',
        () => `${people(textedMuch, 'person has', 'people have')} had ${MUCH} texts or more in the last ${LATELY_DAYS} days.`,
      ).map((each) => ({ ...each, step: 'texted_much' })),
  },
  {
    name: 'links that end too soon',
    kind: 'hint',
    find: ({ draft, writer, when }) =>
      linksOf(draft)
        .filter(
          ({ name, days }) =>
            days !== undefined && writer.compiled.links.includes(name) && days * DAY < when.notAfter - when.base,
        )
        .map(({ name, days }) => ({
          place: 'words',
          message: `The link “${name}” ends ${days === 1 ? 'a day' : `${days} days`} after its text went, while the text is of use for longer.`,
        })),
  },
  {
    name: 'one that contradicts',
    kind: 'hint',
    find: ({ history, draft, workspace }) =>
      contradicting(history?.others ?? [], draft.words)
        .slice(0, 2)
        .map(({ name, at, theirs, mine }) => ({
          place: 'words',
          message: `“${name}” goes ${shownMoment(wallClock(at, workspace.zone), workspace.hours)} and says “${theirs}” where this says “${mine}”.`,
        })),
  },
  {
    name: 'the same matter',
    kind: 'hint',
    find: ({ history, draft, workspace }) =>
      onTheSameMatter(history?.others ?? [], draft.words)
        .filter((other) => contradicting([other], draft.words).length === 0)
        .slice(0, 2)
        .map(({ name, by, at }) => ({
          place: 'words',
          message: `“${name}”${by ? ` by ${by}` : ''} says much the same and goes ${shownMoment(wallClock(at, workspace.zone), workspace.hours)}.`,
        })),
  },
  {
    name: 'extended characters',
    kind: 'hint',
    find: ({ extra, workspace }) =>
      one(
        extra.cost > 0,
        'words',
        () =>
          `Extended characters cost ${extra.parts.toLocaleString('en-US')} more parts, ${showMoney(extra.cost, workspace.currency)}.`,
      ),
  },
  {
    name: 'does not fit before quiet hours',
    kind: 'hint',
    find: ({ spilled, sender, workspace, last }) =>
      one(spilled > 0, 'when', () => {
        const at = last === null ? undefined : wallClock(last, workspace.zone);
        return `${sender?.name ?? 'The sender'} takes ${sender?.parts_per_second ?? 1} ${sender?.parts_per_second === 1 ? 'part' : 'parts'} a second, so ${people(spilled, 'person does', 'people do')} not get it before quiet hours. They get it when those end${at ? `, the last ${shownMoment(at, workspace.hours)}` : ''}.`;
      }).map((each) => ({ ...each, step: 'spilled' })),
  },
  {
    name: 'not evenly by then',
    kind: 'hint',
    find: ({ pace, last, workspace }) =>
      one(
        pace.until !== undefined && last !== null && last > pace.until + 60_000,
        'when',
        () =>
          `The last one goes later than that, ${shownMoment(wallClock(last ?? 0, workspace.zone), workspace.hours)}: hours and the sender’s rate allow no earlier.`,
      ),
  },
  {
    name: 'quiet hours',
    kind: 'hint',
    find: ({ delayed }) =>
      one(
        delayed > 0,
        'when',
        () =>
          `${people(delayed, 'person is', 'people are')} in quiet hours then and ${delayed === 1 ? 'gets' : 'get'} it when they end.`,
      ).map((each) => ({ ...each, step: 'quiet' })),
  },
];

function shownWords({ draft, writer, workspace }: ReadinessFacts): string {
  return `${draft.words} ${writer.optOut(workspace.languages[0])}`;
}

function noWayOut(facts: ReadinessFacts): Finding[] {
  const { draft, sender } = facts;
  return one(
    sender !== null && draft.words.trim() !== '' && !/\bstop\b|\balto\b|opt_out_link|\/o\//i.test(shownWords(facts)),
    'words',
    () => 'The text does not say how to opt out.',
  );
}

/** What must be fixed and what is worth saying, each with the name of its check. */
export function readiness(facts: ReadinessFacts): {
  must: (Finding & { check: string })[];
  hints: (Finding & { check: string })[];
} {
  const found = CHECKS.flatMap(({ name, kind, find }) => find(facts).map((finding) => ({ kind, ...finding, check: name })));
  const of = (wanted: 'must' | 'hint') => found.flatMap(({ kind, ...finding }) => (kind === wanted ? [finding] : []));
  return { must: of('must'), hints: of('hint') };
}
