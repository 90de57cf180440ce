import type { StagedImport } from '../../../core/api/people/imports';
import type { Tx } from '../../db/db';
import { Refusal } from '../../../core/api/refusal';
import type { Asked } from '../../http/route';
import { writeRecord } from '../../db/record';
import { insertField } from '../groups/group-queries';
import { fillLists } from './fill-lists';
import { rememberMatch } from './match-memory';

/** Lists, fields and the mark that the import is decided: one small transaction. */
export async function decide(tx: Tx, staged: StagedImport, asked: Asked<unknown>): Promise<void> {
  const { settings, id } = staged;
  for (const [target, field] of Object.entries(settings.new_fields)) {
    const [, about, slug] = /^(dependant:)?field:(.+)$/.exec(target) ?? [];
    if (!slug || !settings.match.includes(target)) continue;
    await insertField(tx, { about: about ? 'dependant' : 'person', slug, label: field.label, type: field.type, choices: [] });
  }
  if (settings.match.includes('second_phone') || settings.fixes.includes('two_numbers') || settings.fixed_rows.length > 0)
    await insertField(tx, { about: 'person', slug: 'second_phone', label: 'second phone', type: 'text', choices: [] });
  const facts = await fillLists(tx, staged, asked.at);
  const decided = await tx.query(
    `UPDATE import SET state = 'writing', decided_at = $2::timestamptz, written_row = -1, wrote = 0, facts = facts || $3::jsonb, account_id = $4
     WHERE id = $1 AND state = 'open' AND at_row = 0 AND version = $5 AND checked_version = $5`,
    [id, asked.at, JSON.stringify(facts), asked.account?.id ?? null, staged.version],
  );
  // what is decided is what the counts were made from: not while they are being made anew, nor after someone changed the bench
  if (decided.rowCount === 0)
    throw new Refusal('clash', 'decided', 'The bench has just been changed or decided by someone else. Nothing was brought in.', {
      act: 'Look at the counts again, then decide.',
    });
  await rememberMatch(tx, staged.facts.headings, settings.match, asked.at);
  await writeRecord(tx, asked, 'brought in people', staged.file_name, {
    import: id,
    new: staged.counts.new,
    changed: staged.counts.changed,
  });
}
