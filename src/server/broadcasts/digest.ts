import { createHash } from 'node:crypto';
import type { Draft } from '../../core/plan/draft';
import type { PlannedText } from './plan';

/**
 * What the person agreed to, in 64 hexadecimal digits. For a start at once, minutes count from the press, so a due time
 * at the start is written relative to it.
 */
export function digestOf(texts: readonly PlannedText[], draft: Draft, base: number): string {
  const hash = createHash('sha256');
  const { when } = draft;
  // field by field: jsonb does not keep the order of keys
  hash.update(
    JSON.stringify([
      draft.sender_id,
      draft.purpose,
      draft.link?.name,
      draft.link?.address,
      when.kind,
      when.kind === 'at' ? [when.date, when.time] : null,
    ]),
  );
  for (const text of texts) {
    const due = draft.when.kind === 'now' && text.due - base < 3_600_000 ? `+${text.due - base}` : String(text.due);
    hash.update(
      `${text.person.known ? text.person.id : 0}|${text.number}|${text.text}|${text.measure.parts}|${text.cost}|${due}\n`,
    );
  }
  return hash.digest('hex');
}
