import { calledName } from '../../people/another-name';
import { languageName } from '../../text/language';
import { linksOf } from '../draft/links';
import { contradicting, LATELY_DAYS, MUCH, onTheSameMatter, unusualSize } from '../reach/history';
import { showMoney } from '../money/money';
import { bareField, bareTime, relativeWord, saysWho } from '../words/wording-hints';
import { joined, wordingsThatDiffer } from '../words/wordings-that-differ';
import { shownMoment, shownTime } from '../times/shown-time';
import { wallClock } from '../../zones';
import { counted, leadsOnlyHere, one, noWayOut, type Check } from './readiness-facts';

const DAY = 86_400_000;

/** What is worth saying, and can be put aside, in the order in which it is told. */
export const HINTS: readonly Check[] = [
  { name: 'no way out', find: (facts) => (facts.draft.purpose === 'service' ? noWayOut(facts) : []) },
  {
    name: 'a time that does not exist',
    find: ({ draft, when, workspace, first }) =>
      one(when.note === 'gap' && draft.when.kind === 'at', 'when', () => {
        const asked = draft.when.kind === 'at' ? shownTime(draft.when.time, workspace.hours) : '';
        const goes = shownTime(wallClock(first ?? when.base, workspace.zone).time, workspace.hours);
        return `The clocks go forward: ${asked} does not exist that day, so the first goes at ${goes}.`;
      }),
  },
  {
    name: 'a time that comes twice',
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
    find: ({ draft, workspace }) =>
      one(
        draft.words.trim() !== '' && !saysWho(draft.words, workspace.name),
        'words',
        () => `The text does not say who it is from (${workspace.name}).`,
      ),
  },
  {
    name: 'a field that is none',
    find: ({ draft }) => {
      const bare = [draft.words, ...Object.values(draft.translations ?? {})].map(bareField).find((each) => each !== undefined);
      return one(
        bare !== undefined,
        'words',
        () => `“${bare}” goes out as it stands here: two braces are a brace. For a field write one.`,
      );
    },
  },
  {
    name: 'dependants named',
    find: ({ naming: { dependants, all } }) =>
      one(
        all.length > 0,
        'words',
        () =>
          `The texts name ${counted(dependants, 'dependant', 'dependants')}. It is not known for whom ${counted(all.length, 'person is', 'people are')} chosen: their text names all that they have.`,
      ).map((each) => ({ ...each, step: 'names_all' })),
  },
  {
    name: 'here under another name',
    find: ({ otherwise: [example, ...more] }) =>
      one(example !== undefined, 'to', () => {
        const who = `${calledName(example)} of the file is ${example.hereAs ?? ''} here`;
        return more.length === 0
          ? `${who}: the same number, another name. The text says what the file says.`
          : `${counted(more.length + 1, 'person', 'people')} of the file have the number of somebody with another name here: ${who}. The texts say what the file says.`;
      }).map((each) => ({ ...each, step: 'other_name' })),
  },
  {
    name: 'languages without wording',
    find: ({ languages, workspace }) => {
      const [first] = workspace.languages;
      const without = languages.filter((each) => each.people > 0 && each.worded_in !== each.language);
      return one(
        without.length > 0,
        'words',
        () =>
          `${joined(without.map((each) => `${languageName(each.language)} (${counted(each.people, 'person', 'people')})`))} ${without.length === 1 ? 'gets' : 'get'} the ${languageName(first)} words.`,
      ).map((each) => ({ ...each, step: 'unworded' }));
    },
  },
  {
    name: 'wordings that differ',
    find: ({ writer }) => wordingsThatDiffer(writer.wordings).map((message) => ({ place: 'words', message })),
  },
  {
    name: 'words that turn false',
    find: ({ writer }) => {
      const [relative] = writer.wordings.flatMap(({ words, language }) => relativeWord(words, language) ?? []);
      const [bare] = writer.wordings.flatMap(({ words, language }) => (language === 'en' ? (bareTime(words) ?? []) : []));
      return [
        ...one(relative !== undefined, 'words', () => `“${relative}” may be wrong when it is read later or in another zone.`),
        ...one(bare !== undefined, 'words', () => `“${bare}” does not say AM or PM.`),
      ];
    },
  },
  {
    name: 'unusual size',
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
    find: ({ draft }) =>
      one(
        draft.to.some((source) => source.kind === 'run' && source.outcome === 'uncertain'),
        'to',
        () => 'Of some it is not known whether they have the earlier text: whoever has it gets this one, too.',
      ),
  },
  {
    name: 'texted much lately',
    find: ({ textedMuch }) =>
      one(
        textedMuch > 0,
        'to',
        () => `${counted(textedMuch, 'person has', 'people have')} had ${MUCH} texts or more in the last ${LATELY_DAYS} days.`,
      ).map((each) => ({ ...each, step: 'texted_much' })),
  },
  {
    name: 'links that end too soon',
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
    name: 'links that open only here',
    find: (facts) => (facts.workspace.practice ? leadsOnlyHere(facts) : []),
  },
  {
    name: 'one that contradicts',
    find: ({ history, draft, workspace }) =>
      contradicting(history?.others ?? [], draft.words)
        .slice(0, 2)
        .map(({ name, at, theirs, mine }) => ({
          place: 'words',
          message: `“${name}” goes ${shownMoment(wallClock(at, workspace.zone), workspace.hours)} and says “${theirs}” where this says “${mine}”.`,
        })),
  },
  {
    name: 'scheduled on what it puts right',
    find: ({ history, draft, workspace }) =>
      onTheSameMatter(history?.others ?? [], draft.corrects?.words ?? '')
        .slice(0, 3)
        .map(({ name, at }) => ({
          place: 'words',
          message: `“${name}” goes ${shownMoment(wallClock(at, workspace.zone), workspace.hours)} and says what this puts right. Set it aside if it is wrong, too.`,
        })),
  },
  {
    name: 'the same matter',
    find: ({ history, draft, workspace }) =>
      onTheSameMatter(history?.others ?? [], draft.words)
        .filter(
          (other) =>
            contradicting([other], draft.words).length === 0 &&
            onTheSameMatter([other], draft.corrects?.words ?? '').length === 0,
        )
        .slice(0, 2)
        .map(({ name, by, at }) => ({
          place: 'words',
          message: `“${name}”${by ? ` by ${by}` : ''} says much the same and goes ${shownMoment(wallClock(at, workspace.zone), workspace.hours)}.`,
        })),
  },
  {
    name: 'extended characters',
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
    find: ({ draft, spilled, sender, workspace, last }) =>
      one(spilled > 0, 'when', () => {
        const at = last === null ? undefined : wallClock(last, workspace.zone);
        // what holds it back is told: a pace that was chosen, else what the sender takes
        const why = draft.pace
          ? `At the pace that is chosen ${counted(spilled, 'person does', 'people do')}`
          : `${sender?.name ?? 'The sender'} takes ${counted(sender?.parts_per_second ?? 1, 'part', 'parts')} a second, so ${counted(spilled, 'person does', 'people do')}`;
        const closes = draft.allowed ? 'before the allowed hours end' : 'before quiet hours';
        return `${why} not get it ${closes}. They get it in the next allowed hour${at ? `, the last ${shownMoment(at, workspace.hours)}` : ''}.`;
      }).map((each) => ({ ...each, step: 'spilled' })),
  },
  {
    name: 'not evenly by then',
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
    find: ({ delayed }) =>
      one(
        delayed > 0,
        'when',
        () =>
          `${counted(delayed, 'person is', 'people are')} in quiet hours then and ${delayed === 1 ? 'gets' : 'get'} it when they end.`,
      ).map((each) => ({ ...each, step: 'quiet' })),
  },
];
