import type { PlanSummary } from '../api/plan';
import type { HoursRule } from '../gate/hours';
import { plausibleZones } from '../gate/plausible';
import { measure, MOST_PARTS } from '../text/measure';
import { forcing, plain } from '../text/plain-replacements';
import { digestOf } from './digest';
import type { Plan, PlanAsked, PlanTexts } from './plan';
import type { PlanPerson } from './person';
import { samplesOf, zonesOf } from './picture';
import { DROP_REASONS } from './reach';
import { readiness } from './readiness';
import { makeTimetable } from './timetable';
import { TAKEBACK_SECONDS } from './when';
import { wallClock } from './zones';
import { iso } from '../clock';

/** Beyond so many, words are written again when they are asked for, so that memory stays flat. */
const MOST_TEXTS_KEPT = 150_000;
const NO_HOURS = { from: '00:00', to: '00:00' };

/** Recipients in hash order, so that the early ones are not always the same people. FNV-1a. */
function hashOrder(number: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < number.length; i += 1) hash = Math.imul(hash ^ number.charCodeAt(i), 0x01000193) >>> 0;
  return hash;
}

/**
 * The exact plan of a draft over its audience: which words, how many parts, what cost, when, and who not and why. The stages
 * follow each other, since it would be circular otherwise: who (decided before) → language and words for the day of sending →
 * parts → timetable → words again where the day has changed → readiness.
 */
export function makePlan(asked: PlanAsked): Plan {
  const { draft, workspace, writer, when, reach, book } = asked;
  const ordered = inOrder(reach.willGet);
  const written = writeAll(asked, ordered);
  const { due, busy } = makeTimetable({
    base: when.base,
    notAfter: when.notAfter,
    rate: asked.sender?.parts_per_second ?? 1,
    rules: written.rules,
    groupOf: written.groupOf,
    parts: written.parts,
    busy: asked.busy,
    book,
  });
  const dropped: Plan['dropped'] = { ...reach.dropped, too_late: [] };
  const texts = keepTimely(asked, ordered, written, due, dropped.too_late);
  const sums = sumUp(asked, texts, written);
  const languages = languagesOf(asked, texts, written);
  const hash = asked.hash();
  const digest = digestOf(hash, asked, texts);
  const first = sums.first;
  const { must, hints } = readiness({
    draft,
    workspace,
    sender: asked.sender,
    writer,
    when,
    chosen: reach.chosen,
    people: texts.count,
    cost: sums.cost,
    balance: asked.balance,
    first,
    last: sums.last,
    missing: written.missing,
    tooLong: sums.tooLong,
    unpriced: written.unpriced,
    delayed: sums.delayed,
    spilled: sums.spilled,
    extra: written.extra,
    languages,
    gone: asked.gone,
    filling: asked.filling,
  });
  const bare = texts.count > 0 ? measure(texts.write(0)) : measure(draft.words);
  const summary: PlanSummary = {
    chosen: reach.chosen,
    named_twice: reach.namedTwice,
    stepped_in: asked.steppedIn,
    can_step_in: asked.canStepIn,
    dropped: Object.fromEntries(
      [...DROP_REASONS, 'too_late' as const].map((reason) => [reason, dropped[reason].length]),
    ) as PlanSummary['dropped'],
    people: texts.count,
    parts: sums.parts,
    cost_micro: sums.cost,
    balance_micro: asked.balance,
    currency: workspace.currency,
    first: first === null ? null : iso(first),
    last: sums.last === null ? null : iso(sums.last),
    not_after: iso(when.notAfter),
    takeback_seconds: TAKEBACK_SECONDS,
    distribution: [...sums.distribution].sort((a, b) => a[0] - b[0]).map(([parts, people]) => ({ parts, people })),
    units: { usual: sums.usualUnits ?? bare.units, longest: sums.longestUnits ?? bare.units, room: bare.units + bare.left },
    alphabet: { gsm7: texts.count - sums.extended, ucs2: sums.extended },
    fallback: sums.fell,
    zones: zonesOf(texts, workspace.zone),
    sender: asked.sender
      ? { id: asked.sender.id, name: asked.sender.name, kind: asked.sender.kind, address: asked.sender.address }
      : null,
    forcing: writer.wordings.flatMap(({ language, words }) =>
      forcing(words).map((each) => ({
        language,
        character: each.character,
        replacement: each.replacement ?? null,
        at: each.at,
      })),
    ),
    languages,
    extended_cost: written.extendedByWords > 0 ? { parts: written.extra.parts, cost_micro: written.extra.cost } : null,
    opt_out_words: writer.optOut(workspace.languages[0]),
    must_fix: must,
    hints: hints.flatMap((hint) => (hint.place === 'cost' ? [] : [{ ...hint, place: hint.place }])),
    samples: samplesOf(texts, workspace.zone),
  };
  return {
    summary,
    texts,
    dropped,
    reach,
    digest,
    busy,
    base: when.base,
    spilled: sums.spilled,
    hasLink: writer.compiled.links.length > 0,
    relay,
  };

  function relay(base: number): ReturnType<Plan['relay']> {
    const laid = makeTimetable({
      base,
      notAfter: base + (when.notAfter - when.base),
      rate: asked.sender?.parts_per_second ?? 1,
      rules: written.rules,
      groupOf: written.groupOf,
      parts: written.parts,
      busy: asked.busy,
      book,
    });
    if (laid.due.some(Number.isNaN) !== due.some(Number.isNaN) || texts.count !== ordered.length) return undefined;
    if (writer.compiled.dated)
      for (let i = 0; i < texts.count; i += 1) {
        const zone = written.days[written.groupOf[i]][1];
        if (wallClock(laid.due[i], zone).date !== wallClock(texts.due[i], zone).date) return undefined;
      }
    let spilled = 0;
    const closes = written.rules.map((rule) => book.next(rule, base)?.until ?? Infinity);
    for (let i = 0; i < texts.count; i += 1)
      if (laid.due[i] - base > 3_600_000 && laid.due[i] >= closes[written.groupOf[i]]) spilled += 1;
    return { due: laid.due, busy: laid.busy, spilled };
  }
}

function inOrder(people: readonly PlanPerson[]): PlanPerson[] {
  const keys = new Float64Array(people.length);
  // hash and position in one number: sorted natively, and stable
  for (let i = 0; i < people.length; i += 1) keys[i] = hashOrder(people[i].number ?? '') * 2 ** 21 + i;
  keys.sort();
  return Array.from(keys, (key) => people[key % 2 ** 21]);
}

interface Written {
  parts: Uint8Array;
  units: Uint16Array;
  extended: Uint8Array;
  fell: Uint8Array;
  language: Uint8Array;
  price: Float64Array;
  rules: HoursRule[];
  groupOf: Uint32Array;
  /** The words themselves, up to so many people that they may be kept. */
  texts: string[] | undefined;
  /** For each group, the day of sending that its words were written with. */
  days: string[][];
  missing: Map<string, number>;
  unpriced: Set<string>;
  /** What extended characters of the words cost, over everyone and by the wording's language. */
  extra: { parts: number; cost: number };
  extraIn: Map<string, { parts: number; cost: number }>;
  extendedByWords: number;
}

/** Language, words and parts of everyone; the day of sending is that of the first hour they may get it. */
function writeAll(asked: PlanAsked, people: readonly PlanPerson[]): Written {
  const { workspace, writer, when, book, price, draft } = asked;
  const n = people.length;
  const written: Written = {
    parts: new Uint8Array(n),
    units: new Uint16Array(n),
    extended: new Uint8Array(n),
    fell: new Uint8Array(n),
    language: new Uint8Array(n),
    price: new Float64Array(n),
    rules: [],
    groupOf: new Uint32Array(n),
    texts: n <= MOST_TEXTS_KEPT ? new Array<string>(n) : undefined,
    days: [],
    missing: new Map(),
    unpriced: new Set(),
    extra: { parts: 0, cost: 0 },
    extraIn: new Map(),
    extendedByWords: 0,
  };
  const groups = new Map<readonly string[], Map<string, number>>();
  const quiet = { from: workspace.quiet_from, to: workspace.quiet_to };
  const urgent = draft.urgent !== undefined && draft.purpose === 'service';
  const extendedIn = new Set(writer.wordings.flatMap(({ language, words }) => (forcing(words).length > 0 ? [language] : [])));
  for (let i = 0; i < n; i += 1) {
    const person = people[i];
    const number = person.number ?? '';
    const zones = plausibleZones({ zone: person.zone, zoneGuessed: person.zone_guessed, number }, workspace.zone);
    const shownZone = person.zone ?? workspace.zone;
    let inZones = groups.get(zones);
    if (!inZones) groups.set(zones, (inZones = new Map()));
    const key = `${shownZone} ${person.quiet ?? ''}`;
    let group = inZones.get(key);
    if (group === undefined) {
      group = written.rules.length;
      inZones.set(key, group);
      const rule: HoursRule = {
        zones,
        quiet: urgent ? NO_HOURS : quiet,
        own: person.quiet && !urgent ? { from: person.quiet.slice(0, 5), to: person.quiet.slice(6) } : null,
        allowed: urgent ? null : (draft.allowed ?? null),
      };
      written.rules.push(rule);
      written.days.push([wallClock(book.next(rule, when.base)?.from ?? when.base, shownZone).date, shownZone]);
    }
    written.groupOf[i] = group;
    const language = writer.languageOf(person);
    written.language[i] = workspace.languages.indexOf(language);
    const { text, fell, missing } = writer.write(person, language, written.days[group][0]);
    for (const name of missing) written.missing.set(name, (written.missing.get(name) ?? 0) + 1);
    if (fell) written.fell[i] = 1;
    const perPart = price(number);
    if (perPart === undefined) written.unpriced.add(number);
    written.price[i] = perPart ?? 0;
    const measured = note(written, i, text);
    const worded = writer.wordedIn(language);
    if (written.extended[i] && extendedIn.has(worded)) {
      const more = measured - measure(plain(text)).parts;
      written.extendedByWords += 1;
      const of = written.extraIn.get(worded) ?? { parts: 0, cost: 0 };
      written.extraIn.set(worded, { parts: of.parts + more, cost: of.cost + more * (perPart ?? 0) });
      written.extra.parts += more;
      written.extra.cost += more * (perPart ?? 0);
    }
  }
  return written;
}

function note(written: Written, i: number, text: string): number {
  const { alphabet, units, parts } = measure(text);
  if (written.texts) written.texts[i] = text;
  written.parts[i] = Math.min(255, parts);
  written.units[i] = Math.min(65_535, units);
  written.extended[i] = alphabet === 'ucs2' ? 1 : 0;
  return parts;
}

/** Those with an allowed hour before the text is of no use; where the day of sending turned out another, words and parts anew. */
function keepTimely(
  asked: PlanAsked,
  people: readonly PlanPerson[],
  written: Written,
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
    const [first, zone] = written.days[written.groupOf[i]];
    // the day is the same within an hour of one zone's clock, but for the hour of midnight, which is asked exactly
    const key = `${zone} ${Math.floor(due[i] / 900_000)}`;
    let day = dayOf.get(key);
    if (day === undefined) dayOf.set(key, (day = wallClock(due[i], zone).date));
    days.push(day);
    if (day !== first) note(written, i, writer.write(people[i], workspace.languages[written.language[i]], day).text);
  }
  const pick = <T extends Uint8Array | Uint16Array>(from: T, made: T): T => {
    kept.forEach((i, k) => (made[k] = from[i]));
    return made;
  };
  const chosen = kept.length === people.length ? people : kept.map((i) => people[i]);
  const parts = pick(written.parts, new Uint8Array(kept.length));
  const language = pick(written.language, new Uint8Array(kept.length));
  return {
    count: kept.length,
    people: [...chosen],
    parts,
    units: pick(written.units, new Uint16Array(kept.length)),
    extended: pick(written.extended, new Uint8Array(kept.length)),
    fell: pick(written.fell, new Uint8Array(kept.length)),
    cost: Float64Array.from(kept, (i, k) => written.price[i] * parts[k]),
    due: Float64Array.from(kept, (i) => due[i]),
    language,
    languages: workspace.languages,
    group: Uint32Array.from(kept, (i) => written.groupOf[i]),
    write: (k) =>
      written.texts?.[kept[k]] ??
      writer.write(chosen[k], workspace.languages[language[k]], dated ? days[k] : written.days[written.groupOf[kept[k]]][0]).text,
  };
}

/** Who gets which words: one row a language of the workspace. */
function languagesOf({ workspace, writer }: PlanAsked, texts: PlanTexts, written: Written): PlanSummary['languages'] {
  const rows = workspace.languages.map((language) => {
    const extra = writer.wordedIn(language) === language ? written.extraIn.get(language) : undefined;
    return {
      language,
      worded_in: writer.wordedIn(language),
      opt_out: writer.optOut(language),
      people: 0,
      parts: 0,
      longest: 0,
      extra_parts: extra?.parts ?? 0,
      extra_micro: extra?.cost ?? 0,
    };
  });
  for (let i = 0; i < texts.count; i += 1) {
    const row = rows[texts.language[i]];
    row.people += 1;
    row.parts += texts.parts[i];
    row.longest = Math.max(row.longest, texts.units[i]);
  }
  return rows;
}

function sumUp(asked: PlanAsked, texts: PlanTexts, written: Written) {
  const sums = {
    parts: 0,
    cost: 0,
    extended: 0,
    fell: 0,
    tooLong: 0,
    delayed: 0,
    spilled: 0,
    first: null as number | null,
    last: null as number | null,
    usualUnits: undefined as number | undefined,
    longestUnits: undefined as number | undefined,
    distribution: new Map<number, number>(),
  };
  const { base } = asked.when;
  const { book } = asked;
  // when everyone of a group could go if the line were free at once: whoever is later by a window waits for the line, not the hour
  const closes = written.rules.map((rule) => book.next(rule, base));
  for (let i = 0; i < texts.count; i += 1) {
    const due = texts.due[i];
    sums.parts += texts.parts[i];
    sums.cost += texts.cost[i];
    sums.extended += texts.extended[i];
    sums.fell += texts.fell[i];
    if (texts.parts[i] > MOST_PARTS) sums.tooLong += 1;
    if (due - base > 3_600_000) {
      const stretch = closes[texts.group[i]];
      if (stretch && due >= stretch.until) sums.spilled += 1;
      if (stretch && (due >= stretch.until || stretch.from - base > 3_600_000)) sums.delayed += 1;
    }
    if (sums.first === null || due < sums.first) sums.first = due;
    if (sums.last === null || due > sums.last) sums.last = due;
    sums.distribution.set(texts.parts[i], (sums.distribution.get(texts.parts[i]) ?? 0) + 1);
  }
  if (texts.count > 0) {
    const units = Uint16Array.from(texts.units).sort();
    sums.usualUnits = units[Math.floor(units.length / 2)];
    sums.longestUnits = units[units.length - 1];
  }
  return sums;
}
