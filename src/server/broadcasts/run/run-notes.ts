import type { Draft } from '../../../core/plan/draft/draft';
import type { Tx } from '../../db/db';
import { noteOnRun } from './run-queries';

/**
 * What a run is beside others, once it is agreed: its words are not those of the broadcast's run before; or it puts right what another
 * run said, which is noted with that one.
 */
export async function noteBesideOthers(
  tx: Tx,
  run: { id: number; name: string; draft: Draft },
  asked: { account: { id: number } | undefined; at: string },
): Promise<void> {
  const { rows } = await tx.query<{ same: boolean }>(
    `SELECT before.words = run.words AND run_translations(before.id) = run_translations(run.id) AS same
     FROM run JOIN run AS before ON before.broadcast_id = run.broadcast_id AND before.id < run.id AND before.started_at IS NOT NULL
     WHERE run.id = $1 ORDER BY before.id DESC LIMIT 1`,
    [run.id],
  );
  if (rows.at(0)?.same === false) await noteOnRun(tx, run.id, 'words changed since the run before', asked);
  const { corrects } = run.draft;
  if (corrects && (await tx.query(`SELECT 1 FROM run WHERE id = $1`, [corrects.run_id])).rowCount > 0)
    await noteOnRun(tx, corrects.run_id, `put right by “${run.name || 'no name'}”`, asked);
}
