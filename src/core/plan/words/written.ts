import { measure } from '../../text/measure';
import { forcing, type Forcing, withoutPicture } from '../../text/plain-replacements';
import type { Groups } from '../times/groups';
import { NO_RATE, rateOf } from '../money/destinations';
import type { PlanPerson } from '../reach/person';
import type { PlanAsked } from '../plan';
import type { PlanTexts } from './texts';
import type { WrittenText } from './writer';
import type { Starts } from '../times/starts';
import { wallClock } from '../../zones';

/** Beyond so many, words are written again when they are asked for, so that memory stays flat. */
const MOST_TEXTS_KEPT = 150_000;

/** Words and what they come to, one entry a recipient in the order of going. */
export interface Written {
  parts: Uint8Array;
  /** Parts of the text that follows, by the index of a language. */
  after: number[];
  units: Uint16Array;
  extended: Uint8Array;
  fell: Uint8Array;
  language: Uint8Array;
  price: Float64Array;
  /** Index of a line of the rate card. */
  rate: Uint16Array;
  /** The words themselves, up to so many people that they may be kept. */
  texts: string[] | undefined;
  /** For each group, the day of sending that its words were written with. */
  days: string[];
  /** How many get a code; and for each, theirs, once as many are reserved. */
  needed: number;
  codes: readonly (string | undefined)[] | undefined;
  /** Field name → people who have no value and no fallback. */
  missing: Map<string, PlanPerson[]>;
  unpriced: Set<string>;
  /** What extended characters of the words cost, over everyone and by the wording's language. */
  extra: { parts: number; cost: number };
  extraIn: Map<string, { parts: number; cost: number }>;
  extendedByWords: number;
}

/** Language, words and parts of everyone; the day of sending is that of the first hour they may get it. */
export function writeAll(asked: PlanAsked, people: readonly PlanPerson[], groups: Groups, starts: Starts): Written {
  const { workspace, writer, book, rates } = asked;
  const rateFor = rateOf(rates);
  const n = people.length;
  const written: Written = {
    parts: new Uint8Array(n),
    after: workspace.languages.map((each) => (writer.after(each) === '' ? 0 : measure(writer.after(each)).parts)),
    units: new Uint16Array(n),
    extended: new Uint8Array(n),
    fell: new Uint8Array(n),
    language: new Uint8Array(n),
    price: new Float64Array(n),
    rate: new Uint16Array(n),
    texts: n <= MOST_TEXTS_KEPT ? new Array<string>(n) : undefined,
    days: groups.rules.map(
      (rule, g) => wallClock(book.next(rule, starts.of[g])?.from ?? starts.of[g], groups.zones[g].zone).date,
    ),
    ...codesFor(asked, people),
    missing: new Map(),
    unpriced: new Set(),
    extra: { parts: 0, cost: 0 },
    extraIn: new Map(),
    extendedByWords: 0,
  };
  // what its words force, and what is plain in its place: values of some people may need extended characters all the same
  const plainly = new Map(
    writer.wordings.flatMap(({ language, words }) => {
      const found = forcing(words);
      return found.length > 0 ? [[language, found] as const] : [];
    }),
  );
  for (let i = 0; i < n; i += 1) {
    const person = people[i];
    const number = person.number ?? '';
    const language = writer.languageOf(person);
    written.language[i] = workspace.languages.indexOf(language);
    const own = writer.write(person, language, written.days[groups.of[i]], written.codes?.[i]);
    for (const name of own.missing) {
      const known = written.missing.get(name);
      if (known) known.push(person);
      else written.missing.set(name, [person]);
    }
    if (own.fell) written.fell[i] = 1;
    const rate = rateFor(number);
    if (rate === NO_RATE) written.unpriced.add(number);
    const perPart = rate === NO_RATE ? 0 : rates[rate].price_micro;
    written.rate[i] = rate;
    written.price[i] = perPart;
    const measured = note(written, i, own);
    if (plainly.size === 0 || !written.extended[i]) continue;
    const worded = writer.wordedIn(language);
    const forced = plainly.get(worded);
    if (forced) {
      const more = measured - measure(withoutForced(own.text, forced)).parts;
      written.extendedByWords += 1;
      const of = written.extraIn.get(worded) ?? { parts: 0, cost: 0 };
      written.extraIn.set(worded, { parts: of.parts + more, cost: of.cost + more * perPart });
      written.extra.parts += more;
      written.extra.cost += more * perPart;
    }
  }
  return written;
}

/** Codes go to those whose words have one, in the order of going; all or none, since what is not exact for one is for nobody. */
function codesFor(asked: PlanAsked, people: readonly PlanPerson[]): Pick<Written, 'needed' | 'codes'> {
  const { writer, codes } = asked;
  if (!writer.compiled.fields.includes('code')) return { needed: 0, codes: undefined };
  const given = new Map<string, boolean>();
  const gets = people.map((person) => {
    const language = writer.languageOf(person);
    let gives = given.get(language);
    if (gives === undefined) given.set(language, (gives = writer.givesCode(language)));
    return gives;
  });
  const needed = gets.reduce((sum, each) => sum + (each ? 1 : 0), 0);
  if (!codes || needed === 0 || codes.reserved.length < needed) return { needed, codes: undefined };
  let next = 0;
  return { needed, codes: gets.map((each) => (each ? codes.reserved[next++] : undefined)) };
}

function note(written: Written, i: number, { text, weight }: WrittenText): number {
  const { alphabet, units, parts } = measure(text, weight);
  if (written.texts) written.texts[i] = text;
  written.parts[i] = Math.min(255, parts);
  written.units[i] = Math.min(65_535, units);
  written.extended[i] = alphabet === 'ucs2' ? 1 : 0;
  return parts;
}

/** Those with an allowed hour before the text is of no use; where the day of sending turned out another, words and parts anew. */
export function keepTimely(
  asked: PlanAsked,
  people: readonly PlanPerson[],
  written: Written,
  groups: Groups,
  due: Float64Array,
  late: PlanPerson[],
): PlanTexts {
  const { workspace, writer } = asked;
  const kept: number[] = [];
  const days: string[] = [];
  const dayOf = new Map<string, string>();
  const dated = writer.compiled.dated;
  for (let i = 0; i < people.length; i += 1) {
    if (Number.isNaN(due[i])) {
      late.push(people[i]);
      continue;
    }
    kept.push(i);
    if (!dated) continue;
    const first = written.days[groups.of[i]];
    const { zone } = groups.zones[groups.of[i]];
    // the day is the same within an hour of one zone's clock, but for the hour of midnight, which is asked exactly
    const key = `${zone} ${Math.floor(due[i] / 900_000)}`;
    let day = dayOf.get(key);
    if (day === undefined) dayOf.set(key, (day = wallClock(due[i], zone).date));
    days.push(day);
    if (day !== first)
      note(written, i, writer.write(people[i], workspace.languages[written.language[i]], day, written.codes?.[i]));
  }
  // mostly nobody is late, and the columns stand as they are
  const all = kept.length === people.length;
  const pick = <T extends Uint8Array | Uint16Array | Uint32Array | Float64Array>(from: T, made: () => T): T => {
    if (all) return from;
    const picked = made();
    for (let k = 0; k < kept.length; k += 1) picked[k] = from[kept[k]];
    return picked;
  };
  const n = kept.length;
  const chosen = all ? people : kept.map((i) => people[i]);
  const parts = pick(written.parts, () => new Uint8Array(n));
  const language = pick(written.language, () => new Uint8Array(n));
  const price = pick(written.price, () => new Float64Array(n));
  const after = new Uint8Array(n);
  const cost = new Float64Array(n);
  const afterCost = new Float64Array(n);
  for (let k = 0; k < n; k += 1) {
    after[k] = written.after[language[k]];
    cost[k] = price[k] * parts[k];
    afterCost[k] = price[k] * after[k];
  }
  return {
    count: n,
    people: [...chosen],
    parts,
    after,
    units: pick(written.units, () => new Uint16Array(n)),
    extended: pick(written.extended, () => new Uint8Array(n)),
    fell: pick(written.fell, () => new Uint8Array(n)),
    cost,
    afterCost,
    rate: pick(written.rate, () => new Uint16Array(n)),
    due: pick(due, () => new Float64Array(n)),
    language,
    languages: workspace.languages,
    group: pick(groups.of, () => new Uint32Array(n)),
    write: (k) =>
      written.texts?.[kept[k]] ??
      writer.write(
        chosen[k],
        workspace.languages[language[k]],
        dated ? days[k] : written.days[groups.of[kept[k]]],
        written.codes?.[kept[k]],
      ).text,
    writeAfter: (k) => writer.after(workspace.languages[language[k]]),
    code: (k) => written.codes?.[kept[k]] ?? null,
  };
}

/** The text with plain characters for those that the words force; what has none is left out of the reckoning, as before. */
function withoutForced(text: string, forced: readonly Forcing[]): string {
  let plain = text;
  for (const { character, replacement, picture } of forced)
    plain = picture ? withoutPicture(plain, character).trim() : plain.replaceAll(character, replacement ?? '?');
  return plain;
}

/** What the line carries for each: the text, and what follows it at once. */
export function partsOnTheLine({ parts, after, language }: Written): Uint8Array {
  return after.some((each) => each > 0) ? Uint8Array.from(parts, (each, i) => each + after[language[i]]) : parts;
}
