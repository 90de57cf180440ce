import type { PlanSummary } from '../../api/sending/plan';
import { MOST_PARTS } from '../../text/measure';
import type { Groups } from '../times/groups';
import type { PlanAsked } from '../plan';
import type { PlanTexts } from '../words/texts';
import type { Starts } from '../times/starts';
import type { Written } from '../words/written';

/** Who gets which words: one row a language of the workspace. */
export function languagesOf({ workspace, writer }: PlanAsked, texts: PlanTexts, written: Written): PlanSummary['languages'] {
  const [earliest] = [...written.days].sort();
  const rows = workspace.languages.map((language) => {
    const extra = writer.wordedIn(language) === language ? written.extraIn.get(language) : undefined;
    return {
      language,
      worded_in: writer.wordedIn(language),
      opt_out: writer.optOut(language),
      replies: earliest === undefined ? '' : writer.replies(language, earliest),
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
    row.parts += texts.parts[i] + texts.after[i];
    row.longest = Math.max(row.longest, texts.units[i]);
  }
  return rows;
}

/** Why a text goes more than an hour after its start: its hours are shut, or the line is full until they are. */
export const WAITS = { not: 0, hours: 1, line: 2 } as const;

/** Parts, cost, times and lengths over everyone who gets it. */
export function sumUp(asked: PlanAsked, texts: PlanTexts, groups: Groups, starts: Starts) {
  const sums = {
    parts: 0,
    cost: 0,
    /** Of it, what follows the texts. */
    after: { parts: 0, cost: 0 },
    extended: 0,
    fell: 0,
    tooLong: 0,
    delayed: 0,
    spilled: 0,
    /** By text, one of `WAITS`. */
    waits: new Uint8Array(texts.count),
    first: null as number | null,
    last: null as number | null,
    usualUnits: undefined as number | undefined,
    longestUnits: undefined as number | undefined,
    distribution: new Map<number, number>(),
  };
  const { book } = asked;
  // when everyone of a group could go if the line were free at once: whoever is later by a window waits for the line, not the hour
  const closes = groups.rules.map((rule, g) => book.next(rule, starts.of[g]));
  for (let i = 0; i < texts.count; i += 1) {
    const due = texts.due[i];
    sums.parts += texts.parts[i] + texts.after[i];
    sums.cost += texts.cost[i] + texts.afterCost[i];
    sums.after.parts += texts.after[i];
    sums.after.cost += texts.afterCost[i];
    sums.extended += texts.extended[i];
    sums.fell += texts.fell[i];
    if (texts.parts[i] > MOST_PARTS) sums.tooLong += 1;
    const base = starts.of[texts.group[i]];
    if (due - base > 3_600_000) {
      const stretch = closes[texts.group[i]];
      if (stretch && due >= stretch.until) {
        sums.spilled += 1;
        sums.waits[i] = WAITS.line;
      } else if (stretch && stretch.from - base > 3_600_000) {
        sums.delayed += 1;
        sums.waits[i] = WAITS.hours;
      }
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
