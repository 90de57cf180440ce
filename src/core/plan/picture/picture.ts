import type { PlanSummary, ProofText } from '../../api/sending/plan';
import { iso } from '../../clock';
import { wallClock } from '../../zones';
import type { PlanTexts } from '../words/texts';

/** Zones that show the same wall clock then are one row, under the name most people there have. */
export function zonesOf(texts: PlanTexts, workspaceZone: string): PlanSummary['zones'] {
  interface Row {
    zone: string;
    people: number;
    first: number;
    last: number;
    guessed: number;
  }
  const byZone = new Map<string, Row>();
  for (let i = 0; i < texts.count; i += 1) {
    const person = texts.people[i];
    const zone = person.zone ?? workspaceZone;
    const guessed = person.zone === null || person.zone_guessed ? 1 : 0;
    const due = texts.due[i];
    const known = byZone.get(zone);
    if (!known) byZone.set(zone, { zone, people: 1, first: due, last: due, guessed });
    else {
      known.people += 1;
      known.guessed += guessed;
      if (due < known.first) known.first = due;
      if (due > known.last) known.last = due;
    }
  }
  const byClock = new Map<string, Row>();
  for (const each of [...byZone.values()].sort((a, b) => b.people - a.people)) {
    const { date, time } = wallClock(texts.due[0], each.zone);
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
export function proofOf(texts: PlanTexts, i: number, kind: ProofText['kind'], people: number, workspaceZone: string): ProofText {
  const person = texts.people[i];
  return {
    kind,
    people,
    person_id: person.known ? person.id : null,
    name: `${person.given_name} ${person.family_name}`.trim(),
    number: person.number ?? '',
    text: texts.write(i),
    parts: texts.parts[i],
    cost_micro: texts.cost[i] + texts.afterCost[i],
    after: texts.after[i] > 0 ? { text: texts.writeAfter(i), parts: texts.after[i] } : null,
    alphabet: texts.extended[i] ? 'ucs2' : 'gsm7',
    due: iso(texts.due[i]),
    zone: person.zone ?? workspaceZone,
    zone_guessed: person.zone === null || person.zone_guessed,
    language: texts.languages[texts.language[i]],
  };
}

/** How many texts have how many parts. */
function byParts(texts: Pick<PlanTexts, 'count' | 'parts'>): Map<number, number> {
  const counts = new Map<number, number>();
  for (let i = 0; i < texts.count; i += 1) counts.set(texts.parts[i], (counts.get(texts.parts[i]) ?? 0) + 1);
  return counts;
}
const usualOf = (counts: ReadonlyMap<number, number>): number =>
  [...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]?.[0] ?? 0;

/** The number of parts that most texts have; of two that as many have, the smaller. */
export const usualParts = (texts: Pick<PlanTexts, 'count' | 'parts'>): number => usualOf(byParts(texts));

/** Three real texts: the usual, the longest, and one with fallback words. */
export function samplesOf(texts: PlanTexts, workspaceZone: string): ProofText[] {
  if (texts.count === 0) return [];
  const counts = byParts(texts);
  const most = usualOf(counts);
  let usual = -1;
  let longest = 0;
  let fallen = -1;
  let fell = 0;
  for (let i = 0; i < texts.count; i += 1) {
    if (usual < 0 && texts.parts[i] === most && !texts.fell[i]) usual = i;
    if (
      texts.parts[i] > texts.parts[longest] ||
      (texts.parts[i] === texts.parts[longest] && texts.units[i] > texts.units[longest])
    )
      longest = i;
    if (texts.fell[i]) {
      fell += 1;
      if (fallen < 0) fallen = i;
    }
  }
  const samples = [
    proofOf(texts, Math.max(0, usual), 'usual', counts.get(most) ?? 0, workspaceZone),
    proofOf(texts, longest, 'longest', counts.get(texts.parts[longest]) ?? 0, workspaceZone),
  ];
  if (fallen >= 0) samples.push(proofOf(texts, fallen, 'fallback', fell, workspaceZone));
  return samples;
}
