import { fold } from '../text/fold';

/** Words after which numbered choices are meant to be answered, in the languages offered; or a question before them. */
const ASKS =
  /(?:\?|\b(?:reply|answer|text|send|write|respond|repond\w*|reponse|envoy\w*|textez|respond\w*|respuesta|contest\w*|envi\w*|escrib\w*)\b)[^.\n]{0,40}$/;
const MOST = 9;
/** One numbered choice: "1 yes", "2 = no", "3) maybe", "1 for red", "2: non". */
const CHOICE =
  /(?<![\p{L}\p{N}:.,])([1-9])\s*(?:[=:.)\-–]|for\b|pour\b|para\b)?\s*([\p{L}][\p{L}\p{M}'’ -]{0,28}?)(?=\s*(?:[,;.\n)!?]|$|\bor\b|\bou\b|\bo\b|\by\b|\band\b|\bet\b|[1-9]\s*(?:[=:.)\-–]|for\b|pour\b|para\b|\p{L})))/giu;

/**
 * The choices that a text asks for by number, in order ("1 yes, 2 no"); undefined where it asks for none. They begin with 1 and
 * follow each other, and something before them asks: a boat's number in a timetable is no question.
 */
export function readQuestion(words: string): string[] | undefined {
  const found: { n: number; at: number; label: string }[] = [];
  for (const match of words.matchAll(CHOICE)) found.push({ n: Number(match[1]), at: match.index, label: match[2].trim() });
  for (const [i, first] of found.entries()) {
    if (first.n !== 1 || !ASKS.test(fold(words.slice(0, first.at)))) continue;
    const choices = [first.label];
    for (const next of found.slice(i + 1)) {
      if (next.n !== choices.length + 1 || choices.length >= MOST) break;
      choices.push(next.label);
    }
    if (choices.length >= 2) return choices;
  }
  return undefined;
}

const NUMBERS: readonly (readonly string[])[] = [
  ['one', 'un', 'une', 'uno', 'una', 'first'],
  ['two', 'deux', 'dos', 'second'],
  ['three', 'trois', 'tres', 'third'],
  ['four', 'quatre', 'cuatro'],
];
/** What stands for a choice that is called yes or no, in any language. */
const YES = ['yes', 'y', 'yeah', 'yep', 'yup', 'sure', 'oui', 'ouais', 'si', 'sip', 'ja', 'ok', 'okay'];
const NO = ['no', 'n', 'nope', 'nah', 'non', 'nein'];

export type Counted = number | 'doubtful' | 'none';

/**
 * Which choice an answer makes, read generously: "1", "1.", "Yes!", "oui", "Yes, both of us". An answer that names two is doubtful,
 * and so is one that names one only somewhere in a longer text: a person looks at it. One that names none makes none.
 *
 * @param wordings the choices, as each language has them; the nth of every wording is the same choice
 */
export function readChoice(answer: string, wordings: readonly (readonly string[])[]): Counted {
  const most = Math.max(0, ...wordings.map((choices) => choices.length));
  const words = fold(answer).match(/\p{L}+|\p{N}+/gu) ?? [];
  if (words.length === 0) return emoji(answer, wordings);
  const found: { choice: number; at: number; long: number }[] = [];
  for (let choice = 0; choice < most; choice += 1) {
    const labels = wordings.flatMap((choices) => (choices[choice] === undefined ? [] : [fold(choices[choice])]));
    for (const label of labels) {
      const wanted = label.match(/\p{L}+|\p{N}+/gu) ?? [];
      for (const at of within(words, wanted)) found.push({ choice, at, long: wanted.length });
    }
    const other = labels.some((label) => YES.includes(label)) ? YES : labels.some((label) => NO.includes(label)) ? NO : [];
    const at = words.findIndex(
      (word) => word === String(choice + 1) || (NUMBERS[choice] ?? []).includes(word) || other.includes(word),
    );
    if (at >= 0) found.push({ choice, at, long: 1 });
  }
  // "not coming" names "coming", too, but not as itself
  const own = found.filter(
    (each) =>
      !found.some((other) => other.long > each.long && other.at <= each.at && other.at + other.long >= each.at + each.long),
  );
  const named = new Set(own.map(({ choice }) => choice));
  if (named.size === 0) return /^\d+$/.test(words.join('')) ? 'doubtful' : 'none';
  if (named.size > 1) return 'doubtful';
  const choice = own[0].choice;
  const at = Math.min(...own.map((each) => each.at));
  // with it the answer begins, or it is all there is beside a word or two
  return (at === 0 && words.length <= 8) || words.length <= 3 ? choice : 'doubtful';
}

/** Every place where words follow each other in others. */
function within(words: readonly string[], wanted: readonly string[]): number[] {
  if (wanted.length === 0) return [];
  return words.flatMap((_, i) => (wanted.every((word, j) => words[i + j] === word) ? [i] : []));
}

/** A thumb for a question whose first choice is yes, or whose choice is no. */
function emoji(answer: string, wordings: readonly (readonly string[])[]): Counted {
  const up = /👍|✅|✔|👌/u.test(answer);
  const down = /👎|❌|✖/u.test(answer);
  if (up === down) return 'none';
  const wanted = up ? YES : NO;
  for (const choices of wordings) {
    const choice = choices.findIndex((label) => wanted.includes(fold(label)));
    if (choice >= 0) return choice;
  }
  return 'none';
}
