import type { PlanSummary, ProofText } from '../../core/api/plan';
import { iso } from '../../core/clock';
import { wallClock } from '../../core/plan/zones';
import type { PlannedText } from './plan';

/** Zones that show the same wall clock then are one row, under the name most people there have. */
export function zonesOf(texts: readonly PlannedText[]): PlanSummary['zones'] {
  const byZone = new Map<string, { zone: string; people: number; first: number; last: number; guessed: number }>();
  for (const { zone, due, zoneGuessed } of texts) {
    const known = byZone.get(zone);
    if (!known) byZone.set(zone, { zone, people: 1, first: due, last: due, guessed: zoneGuessed ? 1 : 0 });
    else {
      known.people += 1;
      known.first = Math.min(known.first, due);
      known.last = Math.max(known.last, due);
      if (zoneGuessed) known.guessed += 1;
    }
  }
  const byClock = new Map<string, { zone: string; people: number; first: number; last: number; guessed: number }>();
  for (const each of [...byZone.values()].sort((a, b) => b.people - a.people)) {
    const { date, time } = wallClock(texts[0].due, each.zone);
    const same = byClock.get(`${date} ${time}`);
    if (!same) byClock.set(`${date} ${time}`, { ...each });
    else {
      same.people += each.people;
      same.guessed += each.guessed;
      same.first = Math.min(same.first, each.first);
      same.last = Math.max(same.last, each.last);
    }
  }
  return [...byClock.values()].sort((a, b) => b.people - a.people).map((z) => ({ ...z, first: iso(z.first), last: iso(z.last) }));
}

/** One text as a proof: exactly as its recipient gets it. */
export function proofOf(text: PlannedText, kind: ProofText['kind'], people: number): ProofText {
  const name = `${text.person.given_name} ${text.person.family_name}`.trim();
  return {
    kind,
    people,
    person_id: text.person.known ? text.person.id : null,
    name,
    number: text.number,
    text: text.text,
    parts: text.measure.parts,
    cost_micro: text.cost,
    alphabet: text.measure.alphabet,
    due: iso(text.due),
    zone: text.zone,
    zone_guessed: text.zoneGuessed,
    language: text.language,
  };
}

/** Three real texts: the usual, the longest, and one with fallback words. */
export function samplesOf(texts: readonly PlannedText[]): ProofText[] {
  if (texts.length === 0) return [];
  const counts = new Map<number, number>();
  for (const text of texts) counts.set(text.measure.parts, (counts.get(text.measure.parts) ?? 0) + 1);
  const usualParts = [...counts].sort((a, b) => b[1] - a[1])[0][0];
  const usual = texts.find((text) => text.measure.parts === usualParts && !text.fell) ?? texts[0];
  const longest = texts.reduce((most, text) =>
    text.measure.parts > most.measure.parts ||
    (text.measure.parts === most.measure.parts && text.measure.units > most.measure.units)
      ? text
      : most,
  );
  const samples = [
    proofOf(usual, 'usual', counts.get(usualParts) ?? 0),
    proofOf(longest, 'longest', counts.get(longest.measure.parts) ?? 0),
  ];
  const fallen = texts.filter((text) => text.fell);
  if (fallen.length > 0) samples.push(proofOf(fallen[0], 'fallback', fallen.length));
  return samples;
}
