import type { RowRead } from '../../../core/people/prepare';
import type { Db, Param } from '../../db/db';

const CHUNK = 5000;

/** What the rows of a file say about being texted, by number: for each the strictest word counts, whatever row it stands in. */
export class Refusals {
  private readonly no = new Set<string>();
  private readonly yes = new Set<string>();

  hear(said: RowRead['said']): void {
    if (!said) return;
    for (const number of said.numbers) (said.word === 'withdrawn' ? this.no : this.yes).add(number);
  }

  /** How many numbers say no. */
  get numbers(): number {
    return this.no.size;
  }

  /** Numbers that say yes in one row and no in another. */
  get both(): number {
    let both = 0;
    for (const number of this.no) if (this.yes.has(number)) both += 1;
    return both;
  }

  /** Keeps the numbers that say no, in the place of those of an earlier dry run. */
  async keep(db: Db, importId: number): Promise<void> {
    const numbers = [...this.no];
    await db.transaction(async (tx) => {
      await tx.query(`DELETE FROM import_refusal WHERE import_id = $1`, [importId]);
      for (let from = 0; from < numbers.length; from += CHUNK)
        await tx.copyIn(
          'import_refusal',
          ['import_id', 'number'],
          [numbers.slice(from, from + CHUNK).map((number): Param[] => [importId, number])],
        );
    });
  }
}
