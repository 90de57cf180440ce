import type { Copy } from './copies';
import { linksOf } from './links';
import type { Repeats } from './repeats';
import type { PlanAsked } from './plan';
import type { PlanTexts } from './texts';

const repeatsKey = ({ every, n, days, on, times, until, skip, extra, wait }: Repeats) => [
  every,
  n,
  days ?? null,
  typeof on === 'object' ? [on.week, on.day] : (on ?? null),
  times ?? null,
  until ?? null,
  skip ?? [],
  extra ?? [],
  wait ?? 0,
];

/**
 * What the person agrees to, in 64 hexadecimal digits: who, which words, parts, cost, and when. For a start at once the times
 * count from the press and are compared apart (the same plan a second later is the same plan).
 */
export function digestOf(
  hash: ReturnType<PlanAsked['hash']>,
  { draft }: PlanAsked,
  texts: PlanTexts,
  copies: readonly Copy[],
): string {
  const { when } = draft;
  // field by field: jsonb does not keep the order of keys
  hash.update(
    JSON.stringify([
      draft.sender_id,
      draft.purpose,
      draft.code_list_id ?? 0,
      draft.opt_out,
      linksOf(draft).map(({ name, address, days }) => [name, address, days ?? 0]),
      when.kind,
      when.kind === 'at' ? [when.date, when.time, when.own === true] : null,
      when.kind === 'at' && when.repeats ? repeatsKey(when.repeats) : null,
      when.kind === 'at' && when.current ? when.current.most : null,
      when.kind === 'import' ? [when.list_id, when.wait ?? 0] : null,
      draft.pace
        ? [draft.pace.kind, draft.pace.kind === 'a_minute' ? draft.pace.texts : [draft.pace.date, draft.pace.time]]
        : null,
      draft.no_use_after ? [draft.no_use_after.date, draft.no_use_after.time] : null,
      draft.allowed ? [draft.allowed.days, draft.allowed.from, draft.allowed.to] : null,
      draft.urgent ?? null,
    ]),
  );
  let chunk = '';
  for (let i = 0; i < texts.count; i += 1) {
    const person = texts.people[i];
    const due = when.kind !== 'at' ? '' : Math.floor(texts.due[i] / 60_000);
    // a text that follows is the wording of a language, which is that of many
    const after = texts.after[i] > 0 ? `|${texts.writeAfter(i)}|${texts.after[i]}` : '';
    chunk += `${person.known ? person.id : 0}|${person.number}|${texts.write(i)}|${texts.parts[i]}|${texts.cost[i]}|${due}${after}\n`;
    if (chunk.length > 100_000) {
      hash.update(chunk);
      chunk = '';
    }
  }
  for (const copy of copies) chunk += `copy|${copy.number}|${copy.text}|${copy.cost}\n`;
  hash.update(chunk);
  return hash.digest('hex');
}
