import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';
import type { Tx } from '../../db/db';

/** What a run keeps of its plan, beside what is in its columns: the other languages, the wording for opting out, and who was left out. */
export async function keepOfPlan(tx: Tx, run: number, { languages, dropped }: PlanSummary, draft: Draft): Promise<void> {
  const tables = [
    ['run_translation (run_id, language, words)', 'text', Object.entries(draft.translations ?? {})],
    [
      'run_opt_out (run_id, language, words)',
      'text',
      languages.filter(({ opt_out }) => opt_out !== '').map(({ language, opt_out }) => [language, opt_out] as const),
    ],
    ['run_dropped (run_id, reason, people)', 'integer', Object.entries(dropped).filter(([, people]) => people > 0)],
  ] as const;
  for (const [into, type, entries] of tables)
    if (entries.length > 0)
      await tx.query(`INSERT INTO ${into} SELECT $1, key, value FROM unnest($2::text[], $3::${type}[]) AS kept (key, value)`, [
        run,
        entries.map(([key]) => key),
        entries.map(([, value]) => value),
      ]);
}
