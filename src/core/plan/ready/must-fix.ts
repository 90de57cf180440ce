import { MOST_AT_ONCE } from '../../text/at-once';
import { languageName } from '../../text/language';
import { readQuestion } from '../../outcome/question';
import { MOST_PARTS } from '../../text/measure';
import { linksOf } from '../draft/links';
import { shortOf } from '../money/balance';
import { isWebAddress } from '../draft/web-address';
import { counted, leadsOnlyHere, one, shownWords, noWayOut, type Check } from './readiness-facts';

/** What must be fixed before anything goes, in the order in which it is told. */
export const MUST_FIX: readonly Check[] = [
  { name: 'time', find: ({ when }) => when.wrong.map((each) => ({ place: 'when', ...each })) },
  {
    name: 'placeholders',
    find: ({ writer, workspace }) =>
      writer.compiled.problems.map(({ message, language }) => ({
        place: 'words',
        message: `${language === workspace.languages[0] ? '' : `${languageName(language)}: `}${message}`,
      })),
  },
  {
    name: 'no words',
    find: ({ draft }) => one(draft.words.trim() === '', 'words', () => 'There are no words yet.'),
  },
  {
    name: 'link',
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
    name: 'links that open only here',
    find: (facts) => (facts.workspace.practice ? [] : leadsOnlyHere(facts)),
  },
  {
    name: 'nobody',
    find: ({ draft, chosen, people: n }) =>
      draft.to.length === 0
        ? [{ place: 'to', message: 'Nobody is chosen yet.' }]
        : one(n === 0, 'to', () => `Of ${chosen} chosen, nobody can get it.`),
  },
  {
    name: 'barred',
    find: ({ draft, barred }) =>
      barred.length === 0 || draft.barred === 'get_it'
        ? []
        : [
            {
              place: 'to',
              step: 'barred',
              message: `${counted(barred.length, 'person', 'people')} must not hear about a dependant, and it is not known for whom they are chosen here. Is it about ${barred.length === 1 ? 'that dependant' : 'those dependants'}?`,
            },
          ],
  },
  { name: 'sender', find: ({ sender }) => one(sender === null, 'from', () => 'No sender is chosen.') },
  {
    name: 'missing values',
    find: ({ missing, writer }) =>
      // words to use instead do not help where there is no such field
      [...missing]
        .filter(([name]) => !writer.compiled.problems.some(({ unknown }) => unknown === name))
        .map(([name, those]) => ({
          place: 'words',
          step: `missing_${name}`,
          message: `${counted(those.length, 'person has', 'people have')} no “${name}”. Add words to use instead: {${name} or "…"}.`,
          fix: `{${name} or "…"}`,
        })),
  },
  {
    name: 'too long',
    find: ({ tooLong }) =>
      one(tooLong > 0, 'words', () => `${counted(tooLong, 'text has', 'texts have')} more than ${MOST_PARTS} parts.`),
  },
  {
    name: 'shown at once',
    find: ({ draft, workspace, longest, extended }) => {
      if (!draft.show_at_once) return [];
      if (workspace.at_once === 'none') return [{ place: 'when', message: 'The carrier takes no texts that are shown at once.' }];
      return [
        ...one(
          longest > MOST_AT_ONCE,
          'words',
          () =>
            `Shown at once, a text can have ${MOST_AT_ONCE} parts; the longest has ${longest}. Phones show one part at a time.`,
        ),
        ...one(
          extended > 0 && workspace.at_once !== 'any',
          'words',
          () => `The carrier shows only plain characters at once; ${counted(extended, 'text has', 'texts have')} extended ones.`,
        ),
      ];
    },
  },
  {
    name: 'no price',
    find: ({ unpriced }) =>
      one(
        unpriced.size > 0,
        'cost',
        () =>
          `There is no price on the rate card for ${counted(unpriced.size, 'number', 'numbers')}, such as ${[...unpriced][0]}.`,
        'Add the country to the rate card in Setup.',
      ),
  },
  {
    name: 'codes',
    find: ({ writer, codes, needed }) => {
      if (!writer.compiled.fields.includes('code')) return [];
      if (!codes) return [{ place: 'words', message: 'The text gives a code, but no list of codes is chosen.' }];
      return one(
        codes.free < needed,
        'words',
        () =>
          `“${codes.name}” has ${counted(codes.free, 'code', 'codes')} left; ${counted(needed, 'person', 'people')} would get one.`,
      );
    },
  },
  { name: 'deleted', find: ({ gone }) => gone.map((message) => ({ place: 'to', message })) },
  {
    name: 'being filled',
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
    find: ({ cost, balance, workspace }) => {
      const short = shortOf(cost, balance, workspace.currency);
      return short ? [short] : [];
    },
  },
  {
    name: 'stop to a name',
    find: (facts) =>
      one(
        facts.sender?.kind === 'name' && /\bstop\b/i.test(shownWords(facts)),
        'from',
        () => `“${facts.sender?.name}” cannot take replies, so the text must not ask for STOP: give an opt-out link instead.`,
        'Give an opt-out link instead.',
      ),
  },
  {
    name: 'question to a name',
    find: ({ sender, writer }) => {
      const asks = sender?.kind === 'name' ? writer.wordings.flatMap(({ words }) => readQuestion(words) ?? []) : [];
      return one(
        asks.length > 0,
        'from',
        () => `“${sender?.name}” cannot take replies, so nobody could answer “${asks[0]}” or “${asks[1]}”.`,
        'Choose a sender that takes replies, or ask in another way.',
      );
    },
  },
  { name: 'no way out (marketing)', find: (facts) => (facts.draft.purpose === 'marketing' ? noWayOut(facts) : []) },
];
