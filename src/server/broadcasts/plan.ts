import type { PlanSummary } from '../../core/api/plan';
import { compileText } from '../../core/merge/compile';
import type { Draft } from '../../core/plan/draft';
import { pricer, showMoney } from '../../core/plan/money';
import { CANNOT_BE_TEXTED, decideReach, DROP_REASONS, type DropReason, type ReachRules } from '../../core/plan/reach';
import { bareTime, relativeWord, saysWho } from '../../core/plan/wording-hints';
import { afterQuietInAll, wallClock } from '../../core/plan/zones';
import { iso } from '../../core/clock';
import { measure, MOST_PARTS, type Measure } from '../../core/text/measure';
import { forcing, plain } from '../../core/text/plain-replacements';
import type { Queryable } from '../db/db';
import { balanceMicro } from '../engine/texts';
import { namedBy, nextContacts, peopleOf, unreachableOf, type AudiencePerson } from './audience';
import { fieldsOf, valuesOf } from './values';
import { digestOf } from './digest';
import { samplesOf, zonesOf } from './shown';
import { TAKEBACK_SECONDS } from './takeback';
import { resolveWhen } from './when';

export const LINK_TOKEN = 12;

export interface PlannedText {
  person: AudiencePerson;
  number: string;
  /** Words with a dummy in the place of the personal link, of the same length. */
  text: string;
  measure: Measure;
  cost: number;
  due: number;
  zone: string;
  zoneGuessed: boolean;
  language: string;
  fell: boolean;
  hasLink: boolean;
}

export interface Plan {
  summary: PlanSummary;
  texts: PlannedText[];
  dropped: Record<DropReason | 'too_late', AudiencePerson[]>;
  /** Named by more than one source. */
  twice: AudiencePerson[];
  /** Who gets the text of a number that several share. */
  winners: ReadonlyMap<string, AudiencePerson>;
  digest: string;
  linkAddress: string | null;
  linkPrefix: string;
  base: number;
}

interface Workspace {
  name: string;
  zone: string;
  currency: string;
  languages: string[];
  quiet_from: string;
  quiet_to: string;
  public_address: string;
  opt_out_wording: Record<string, string>;
}

export const DUMMY_TOKEN = 'k7w2m4nq9cxy';

/** Recipients in hash order, so that the early ones are not always the same people. FNV-1a. */
function hashOrder(number: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < number.length; i += 1) hash = Math.imul(hash ^ number.charCodeAt(i), 0x01000193) >>> 0;
  return hash;
}

/**
 * The exact plan of a draft over the real audience, as of now: who, which words, how many parts, what cost, when, and
 * who not and why. In this order, since it would be circular otherwise: who, language, words, parts, due times.
 */
export async function makePlan(db: Queryable, draft: Draft, now: number): Promise<Plan> {
  const workspace = (
    await db.query<Workspace>(
      `SELECT name, zone, currency, languages, quiet_from, quiet_to, public_address, opt_out_wording FROM workspace`,
    )
  ).rows[0];
  const must: PlanSummary['must_fix'] = [];
  const hints: PlanSummary['hints'] = [];
  const sender =
    (
      await db.query<NonNullable<PlanSummary['sender']> & { parts_per_second: number }>(
        `SELECT id, name, kind, address, parts_per_second FROM sender WHERE id = $1`,
        [draft.sender_id ?? 0],
      )
    ).rows[0] ?? null;
  const known = await fieldsOf(db);

  // when
  const when = resolveWhen(draft, workspace.zone, now);
  must.push(...when.must);
  hints.push(...when.hints);

  // who
  const today = { day: wallClock(now, workspace.zone).date, zone: workspace.zone };
  let people = await peopleOf(db, await namedBy(db, draft.to, draft.purpose, today), draft.purpose, today);
  const out = await peopleOf(db, await namedBy(db, draft.leave_out, draft.purpose, today), draft.purpose, today);
  const register = new Set((await db.query<{ number: string }>(`SELECT number FROM suppression`)).rows.map((row) => row.number));
  const aboutDependants = /\{\s*dependants\./.test(draft.words);
  const rules: ReachRules = {
    purpose: draft.purpose,
    leaveOut: new Set(out.filter((each) => each.known).map((each) => each.id)),
    leaveOutNumbers: new Set(out.flatMap((each) => each.number ?? [])),
    unticked: new Set(draft.unticked),
    untickedNumbers: new Set(draft.unticked_numbers ?? []),
    register,
    unreachable: draft.leave_out.some((source) => source.kind === 'unreachable')
      ? await unreachableOf(
          db,
          people.flatMap((each) => each.number ?? []),
        )
      : new Set(),
  };
  // someone who must not hear about a child may still hear what is not about children
  const decideFor = (some: readonly AudiencePerson[]) =>
    decideReach(aboutDependants ? some : some.map((each) => ({ ...each, mustNot: false })), rules);
  let reach = decideFor(people);
  let steppedIn = 0;
  if (draft.second_contacts) {
    const cannot = CANNOT_BE_TEXTED.flatMap((reason) => reach.dropped[reason]);
    const next = await nextContacts(db, cannot, reach.willGet);
    if (next.length > 0) {
      const before = reach.willGet.length;
      people = [...people, ...(await peopleOf(db, next, draft.purpose, today))];
      reach = decideFor(people);
      steppedIn = reach.willGet.length - before;
    }
  }
  const dropped: Plan['dropped'] = { ...reach.dropped, too_late: [] };

  // words
  const links = new Set(draft.link && draft.link.address !== '' ? [draft.link.name] : []);
  const optOut = (language: string) =>
    draft.opt_out === 'in_text'
      ? (workspace.opt_out_wording[language] ?? workspace.opt_out_wording[workspace.languages[0]] ?? '')
      : '';
  const compiled = compileText(draft.words, known, links);
  for (const problem of compiled.problems) must.push({ place: 'words', message: problem.message });
  if (draft.words.trim() === '') must.push({ place: 'words', message: 'There are no words yet.' });
  if (draft.link && draft.link.address !== '' && !/^https?:\/\/\S+$/.test(draft.link.address))
    must.push({ place: 'words', message: `The link “${draft.link.name}” needs a complete address that starts with https://.` });
  const linkPrefix = `${workspace.public_address.replace(/^https?:\/\//, '').replace(/\/$/, '')}/l/`;
  const price = pricer((await db.query<{ prefix: string; price_micro: number }>(`SELECT prefix, price_micro FROM rate`)).rows);
  const quiet = { from: workspace.quiet_from, to: workspace.quiet_to };
  const starts = new Map<string, number>();
  const sendDays = new Map<string, string>();
  const ordered = [...reach.willGet].sort((a, b) => hashOrder(a.number ?? '') - hashOrder(b.number ?? '') || a.id - b.id);
  const gone = new Map<number, number>(); // start instant → parts already placed from there
  const texts: PlannedText[] = [];
  const missing = new Map<string, number>();
  const unpriced = new Set<string>();
  let extendedByWords = 0;
  const bareMeasureCost = { parts: 0, cost: 0 };
  const wordsAreExtended = forcing(draft.words).length > 0;
  for (const [at, person] of ordered.entries()) {
    if (at % 4000 === 3999) await new Promise((resolve) => setImmediate(resolve));
    const language = person.language && workspace.languages.includes(person.language) ? person.language : workspace.languages[0];
    const zone = person.zone ?? workspace.zone;
    // a guess, or no idea: only hours allowed in every plausible zone
    const zones = person.zone && !person.zone_guessed ? [person.zone] : [...new Set([zone, workspace.zone])];
    const key = `${zones.join('|')} ${person.quiet ?? ''}`;
    let start = starts.get(key);
    if (start === undefined) {
      const own = person.quiet ? { from: person.quiet.slice(0, 5), to: person.quiet.slice(6) } : undefined;
      start = afterQuietInAll(when.base, zones, quiet, own);
      starts.set(key, start);
    }
    const sendDay = sendDays.get(key) ?? wallClock(start, zone).date;
    sendDays.set(key, sendDay);
    const values = valuesOf(person, {
      sender: sender?.name ?? '',
      workspace: workspace.name,
      link: draft.link ? `${linkPrefix}${DUMMY_TOKEN}` : '',
      sendDay,
      language,
      types: known,
    });
    const rendered = compiled.render(values, language);
    for (const name of rendered.missing) missing.set(name, (missing.get(name) ?? 0) + 1);
    const ending = optOut(language);
    const text = ending === '' ? rendered.text : `${rendered.text.trimEnd()}${rendered.text.trim() === '' ? '' : '\n'}${ending}`;
    const measured = measure(text);
    const number = person.number ?? '';
    const perPart = price(number);
    if (perPart === undefined) unpriced.add(number);
    if (wordsAreExtended && measured.alphabet === 'ucs2') {
      extendedByWords += 1;
      const bare = measure(plain(text)).parts;
      bareMeasureCost.parts += measured.parts - bare;
      bareMeasureCost.cost += (measured.parts - bare) * (perPart ?? 0);
    }
    const before = gone.get(start) ?? 0;
    gone.set(start, before + measured.parts);
    const due = start + Math.floor(before / (sender?.parts_per_second ?? 1)) * 1000;
    if (due >= when.notAfter) {
      dropped.too_late.push(person);
      continue;
    }
    texts.push({
      person,
      number,
      text,
      measure: measured,
      cost: (perPart ?? 0) * measured.parts,
      due,
      zone,
      zoneGuessed: person.zone === null || person.zone_guessed,
      language,
      fell: rendered.fell.length > 0,
      hasLink: compiled.links.length > 0,
    });
  }

  // readiness
  if (draft.to.length === 0) must.push({ place: 'to', message: 'Nobody is chosen yet.' });
  else if (texts.length === 0) must.push({ place: 'to', message: `Of ${reach.chosen} chosen, nobody can get it.` });
  if (!sender) must.push({ place: 'from', message: 'No sender is chosen.' });
  for (const [name, count] of missing)
    must.push({
      place: 'words',
      message: `${count} ${count === 1 ? 'person has' : 'people have'} no “${name}”. Add words to use instead: {${name} or "…"}.`,
    });
  const tooLong = texts.filter((text) => text.measure.parts > MOST_PARTS).length;
  if (tooLong > 0)
    must.push({
      place: 'words',
      message: `${tooLong} ${tooLong === 1 ? 'text has' : 'texts have'} more than ${MOST_PARTS} parts.`,
    });
  if (unpriced.size > 0)
    must.push({
      place: 'cost',
      message: `There is no price on the rate card for ${unpriced.size} ${unpriced.size === 1 ? 'number' : 'numbers'}, such as ${[...unpriced][0]}.`,
    });
  for (const words of await goneSources(db, draft)) must.push({ place: 'to', message: words });
  const filling = await db.query<{ name: string }>(
    `SELECT name FROM list WHERE filling_import IS NOT NULL AND id = ANY ($1::bigint[])`,
    [draft.to.flatMap((source) => (source.kind === 'list' ? [source.id] : []))],
  );
  for (const { name } of filling.rows) must.push({ place: 'to', message: `People are still being brought into “${name}”.` });
  const balance = await balanceMicro(db);
  const cost = texts.reduce((sum, text) => sum + text.cost, 0);
  if (cost > balance)
    must.push({
      place: 'cost',
      message: `The balance does not cover it: ${showMoney(cost - balance, workspace.currency)} is missing.`,
    });
  const shown = `${draft.words} ${optOut(workspace.languages[0])}`;
  if (sender?.kind === 'name' && /\bstop\b/i.test(shown))
    must.push({ place: 'from', message: `“${sender.name}” cannot take replies, so the text must not ask for STOP.` });
  if (sender && sender.kind !== 'name' && draft.words.trim() !== '' && !/\bstop\b|\balto\b|opt_out_link/i.test(shown)) {
    (draft.purpose === 'marketing' ? must : hints).push({ place: 'words', message: 'The text does not say how to opt out.' });
  }
  if (draft.words.trim() !== '' && !saysWho(draft.words, workspace.name))
    hints.push({ place: 'words', message: `The text does not say who it is from (${workspace.name}).` });
  const relative = relativeWord(draft.words);
  if (relative) hints.push({ place: 'words', message: `“${relative}” may be wrong when it is read later or in another zone.` });
  const bare = bareTime(draft.words);
  if (bare) hints.push({ place: 'words', message: `“${bare}” does not say AM or PM.` });
  if (bareMeasureCost.cost > 0)
    hints.push({
      place: 'words',
      message: `Extended characters cost ${bareMeasureCost.parts.toLocaleString('en-US')} more parts, ${showMoney(bareMeasureCost.cost, workspace.currency)}.`,
    });
  const delayed = [...starts.values()].filter((start) => start > when.base).length;
  if (delayed > 0 && texts.length > 0) {
    const later = texts.filter((text) => text.due - when.base > 3_600_000).length;
    if (later > 0)
      hints.push({
        place: 'when',
        message: `${later} ${later === 1 ? 'person is' : 'people are'} in quiet hours then and ${later === 1 ? 'gets' : 'get'} it when they end.`,
      });
  }

  const distribution = new Map<number, number>();
  for (const text of texts) distribution.set(text.measure.parts, (distribution.get(text.measure.parts) ?? 0) + 1);
  const dues = texts.map((text) => text.due);
  const first = dues.length > 0 ? dues.reduce((a, b) => Math.min(a, b)) : null;
  const last = dues.length > 0 ? dues.reduce((a, b) => Math.max(a, b)) : null;
  const sortedUnits = texts.map((text) => text.measure.units).sort((a, b) => a - b);
  const extended = texts.filter((text) => text.measure.alphabet === 'ucs2').length;
  const parts = texts.reduce((sum, text) => sum + text.measure.parts, 0);
  const usualText = texts.length > 0 ? measure(texts[0].text) : measure(draft.words);
  const summary: PlanSummary = {
    chosen: reach.chosen,
    named_twice: reach.namedTwice,
    stepped_in: steppedIn,
    can_step_in: draft.second_contacts
      ? steppedIn
      : (
          await nextContacts(
            db,
            CANNOT_BE_TEXTED.flatMap((reason) => reach.dropped[reason]),
            reach.willGet,
          )
        ).length,
    dropped: Object.fromEntries(
      [...DROP_REASONS, 'too_late' as const].map((reason) => [reason, dropped[reason].length]),
    ) as PlanSummary['dropped'],
    people: texts.length,
    parts,
    cost_micro: cost,
    balance_micro: balance,
    currency: workspace.currency,
    first: first === null ? null : iso(first),
    last: last === null ? null : iso(last),
    not_after: iso(when.notAfter),
    takeback_seconds: TAKEBACK_SECONDS,
    distribution: [...distribution].sort((a, b) => a[0] - b[0]).map(([count, number]) => ({ parts: count, people: number })),
    units: {
      usual: sortedUnits[Math.floor(sortedUnits.length / 2)] ?? usualText.units,
      longest: sortedUnits[sortedUnits.length - 1] ?? usualText.units,
      room: usualText.units + usualText.left,
    },
    alphabet: { gsm7: texts.length - extended, ucs2: extended },
    fallback: texts.filter((text) => text.fell).length,
    zones: zonesOf(texts),
    sender: sender ? { id: sender.id, name: sender.name, kind: sender.kind, address: sender.address } : null,
    forcing: forcing(draft.words).map((each) => ({
      character: each.character,
      replacement: each.replacement ?? null,
      at: each.at,
    })),
    extended_cost:
      wordsAreExtended && extendedByWords > 0 ? { parts: bareMeasureCost.parts, cost_micro: bareMeasureCost.cost } : null,
    opt_out_words: optOut(workspace.languages[0]),
    must_fix: must,
    hints,
    samples: samplesOf(texts),
  };
  return {
    summary,
    texts,
    dropped,
    twice: [...new Map(reach.twice.map((person) => [person.id, person])).values()],
    winners: reach.winners,
    digest: digestOf(texts, draft, when.base),
    linkAddress: draft.link?.address ?? null,
    linkPrefix,
    base: when.base,
  };
}

/**
 * Lists, tags and segments that a draft names and that have been deleted since. Without a word, fewer people would get it,
 * or those to be left out would.
 */
async function goneSources(db: Queryable, draft: Draft): Promise<string[]> {
  const said: string[] = [];
  for (const kind of ['list', 'tag', 'segment'] as const)
    for (const [side, words] of [
      ['to', 'it goes to'],
      ['leave_out', 'it leaves out'],
    ] as const) {
      const ids = [...new Set(draft[side].flatMap((source) => (source.kind === kind ? [source.id] : [])))];
      if (ids.length === 0) continue;
      const { rowCount } = await db.query(`SELECT id FROM ${kind} WHERE id = ANY ($1::bigint[])`, [ids]);
      if (rowCount < ids.length) said.push(`A ${kind} that ${words} has been deleted. Take it away, or choose another.`);
    }
  return said;
}
