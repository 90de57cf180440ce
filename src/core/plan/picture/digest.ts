import type { Copy } from '../reach/copies';
import { hoursKey, type HoursRule } from '../../gate/hours';
import { linksOf } from '../draft/links';
import type { Repeats } from '../times/repeats';
import type { PlanAsked } from '../plan';
import type { Shape } from '../times/shape';
import type { PlanTexts } from '../words/texts';

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
 * What the person agrees to but for the times of a start at once, in 64 hexadecimal digits: who, which words, parts, cost, and when. A
 * start at once is the same plan a second later; it holds what its times are made of: the sender's rate, and the hours that hold for each.
 */
export function contentOf(
  hash: ReturnType<PlanAsked['hash']>,
  { draft, sender }: PlanAsked,
  texts: PlanTexts,
  copies: readonly Copy[],
  rules: readonly HoursRule[],
): string {
  const { when } = draft;
  if (when.kind !== 'at') {
    // by what the hours are: which groups they were put in is nobody's matter
    const hours = rules.map(hoursKey);
    const kinds = [...new Set(hours)].sort();
    const kindOf = hours.map((key) => kinds.indexOf(key));
    hash.update(JSON.stringify([sender?.parts_per_second ?? 1, kinds]));
    if (kinds.length > 1) hash.update(Array.from(texts.group.subarray(0, texts.count), (group) => kindOf[group]).join(','));
  }
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
      // only where it is so: what was agreed before there was a choice is still the same
      ...(draft.show_at_once ? ['shown at once'] : []),
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

/** Times by the minute, as they are shown. */
const MINUTE = 60_000;

/**
 * The digest of a plan: its content, and for a start at once the shape of its times: how long the first and the last take from the
 * start, by the minute, how many wait for a later window, and until when.
 */
export function digestOf(
  hash: ReturnType<PlanAsked['hash']>,
  content: string,
  when: PlanAsked['draft']['when'],
  shape: Shape,
): string {
  if (when.kind === 'at') return content;
  let [first, last] = [Infinity, -Infinity];
  for (let i = 0; i < shape.count; i += 1) {
    first = Math.min(first, shape.due[i]);
    last = Math.max(last, shape.due[i]);
  }
  const from = (due: number) => Math.floor((due - shape.base) / MINUTE);
  hash.update(
    JSON.stringify([
      content,
      ...(shape.count === 0 ? [] : [from(first), shape.spilled, shape.spilled > 0 ? Math.floor(last / MINUTE) : from(last)]),
    ]),
  );
  return hash.digest('hex');
}
