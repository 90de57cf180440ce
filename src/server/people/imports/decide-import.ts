import type { StagedImport } from '../../../core/api/people/imports';
import { EMPTY_DRAFT, MOST_SOURCES, type Draft } from '../../../core/plan/draft/draft';
import type { Tx } from '../../db/db';
import { Refusal } from '../../../core/api/refusal';
import type { Asked } from '../../http/route';
import { writeRecord } from '../../db/record';
import { insertField } from '../groups/group-queries';
import { fillLists } from './fill-lists';
import { busy, importOf } from './import-store';
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

/**
 * The file goes to one broadcast, the draft that is named or a new one, and nobody enters the address book; answers the broadcast.
 * @throws Refusal where the bench has moved on, or the broadcast is no draft any more: the file stays on the bench.
 */
export async function useOnce(tx: Tx, staged: StagedImport, asked: Asked<unknown>, broadcast?: number): Promise<number> {
  const { id } = staged;
  const used = await tx.query(
    `UPDATE import SET state = 'once', decided_at = $2::timestamptz WHERE id = $1 AND state = 'open' AND at_row = 0 AND version = $3 AND checked_version = $3`,
    [id, asked.at, staged.version],
  );
  if (used.rowCount === 0) throw busy(await importOf(tx, id));
  await writeRecord(tx, asked, 'took a file for one broadcast', staged.file_name, { import: id });
  const to = [{ kind: 'file' as const, id }];
  const words = staged.settings.match.includes('ready_text') ? '{ready_text}' : '';
  if (broadcast !== undefined) {
    await addToDraft(tx, broadcast, { to, words, at: asked.at });
    return broadcast;
  }
  const sender_id = (await tx.query<{ id: number }>(`SELECT id FROM sender ORDER BY (kind = 'name'), id LIMIT 1`)).rows[0]?.id;
  const { rows } = await tx.query<{ id: number }>(
    `INSERT INTO broadcast (name, state, draft, account_id, created_at, updated_at) VALUES ('', 'draft', $1::jsonb, $2, $3::timestamptz, $3::timestamptz) RETURNING id`,
    [JSON.stringify({ ...EMPTY_DRAFT, to, words, sender_id: sender_id ?? null }), asked.account?.id ?? null, asked.at],
  );
  return rows[0].id;
}

/** Beside whom it goes to already; words that it has are not replaced. @throws Refusal where it is no draft, or goes to too many sources. */
async function addToDraft(tx: Tx, id: number, more: { to: Draft['to']; words: string; at: string }): Promise<void> {
  const { rows } = await tx.query<{ state: string; draft: Draft }>(
    `SELECT state, draft FROM broadcast WHERE id = $1 FOR UPDATE`,
    [id],
  );
  const found = rows.at(0);
  const kept = 'The file is still on the bench.';
  if (!found) throw new Refusal('clash', 'gone', 'That broadcast has been deleted.', { kept });
  if (found.state !== 'draft' && found.state !== 'set_aside')
    throw new Refusal('clash', 'not-a-draft', 'That broadcast is no draft any more.', {
      kept,
      act: 'Set it aside to change it.',
    });
  const to = [...found.draft.to, ...more.to];
  if (to.length > MOST_SOURCES)
    throw new Refusal('wrong', 'sources', `A broadcast goes to at most ${MOST_SOURCES} lists, files and people.`, { kept });
  await tx.query(
    `UPDATE broadcast SET draft = $2::jsonb, version = version + 1, updated_at = $3::timestamptz,
       put_back = CASE WHEN state = 'set_aside' THEN coalesce(put_back, draft) END WHERE id = $1`,
    [id, JSON.stringify({ ...found.draft, to, words: found.draft.words || more.words }), more.at],
  );
}
