import { readQuestion } from '../../../core/outcome/question';
import type { Queryable } from '../../db/db';

/** The choices that a run asks for, as each of its languages has them, the first one's first; none where it asks no question. */
export async function questionOfRun(db: Queryable, run: number): Promise<string[][]> {
  const { rows } = await db.query<{ words: string; translations: Record<string, string> }>(
    `SELECT words, run_translations(id) AS translations FROM run WHERE id = $1`,
    [run],
  );
  return rows.flatMap(({ words, translations }) =>
    [words, ...Object.values(translations)].flatMap((each) => {
      const choices = readQuestion(each);
      return choices ? [choices] : [];
    }),
  );
}
