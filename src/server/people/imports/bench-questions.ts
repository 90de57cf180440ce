import type { BenchQuestions, ImportCounts, StagedImport, TextingExample } from '../../../core/api/people/imports';
import { choosePhone, whyPhone } from '../../../core/people/heading/phone-heading';
import { saidAboutTexts, saysStopped } from '../../../core/people/heading/texting-heading';
import { openTextingColumns, phoneColumns, textingColumns } from '../../../core/people/match';
import type { Queryable } from '../../db/db';
import { Refusal } from '../../../core/api/refusal';
import { nextRows } from './file-rows';
import { CELLS_TO_SHOW } from './import-store';

type OnBench = Pick<StagedImport, 'id' | 'facts' | 'settings'> & { counts: Partial<ImportCounts> };

/** Rows that the first match was made from, as long as they do not hold too much. */
const SAMPLE = 60;

/** The first rows under the headings, as the first match saw them; further down the dry run looks (`counts.stops`). */
async function sampleOf(db: Queryable, { id, settings }: OnBench): Promise<string[][]> {
  return (await nextRows(db, id, { after: settings.heading_row }, SAMPLE)).map((row) => row.cells);
}

/** The rows of the file in which a "stop" was come upon further down. */
async function lateRows(db: Queryable, { id, counts }: OnBench): Promise<string[][]> {
  const late = counts.stops ?? [];
  if (late.length === 0) return [];
  const { rows } = await db.query<{ cells: string[] }>(
    `SELECT ${CELLS_TO_SHOW} AS cells FROM import_row WHERE import_id = $1 AND row_no = ANY ($2::int[]) ORDER BY row_no`,
    [id, late.map((stop) => stop.row)],
  );
  return rows.map((row) => row.cells);
}

const effect = (cell: string, column: 'grants' | 'refuses'): TextingExample['if_grants'] => {
  const said = saidAboutTexts(cell, column);
  if (said === 'granted') return 'may be texted';
  if (said === 'withdrawn') return 'will not be texted';
  return said === null ? 'says nothing' : 'cannot be read';
};

/** What only a person can say about a file, with real rows of it; and why the text number is the column it is. */
export async function questionsOf(db: Queryable, staged: OnBench): Promise<BenchQuestions> {
  const { headings } = staged.facts;
  const { match, country, not_about_texts: not = [], stop_columns: stops = [] } = staged.settings;
  const sample = await sampleOf(db, staged);
  const names = ['given_name', 'full_name', 'family_name', 'number']
    .map((target) => match.indexOf(target))
    .filter((at) => at >= 0);
  const who = (row: string[]) => names.map((at) => row[at]?.trim() ?? '').find((cell) => cell !== '') ?? '';
  const late = await lateRows(db, staged);
  const texting = textingColumns(headings, sample, staged.counts.stops).map(({ column, heading, says }) => {
    const examples = new Map<string, TextingExample>();
    // a cell that says stop is why it is asked: it stands first, also when it was come upon further down
    const saysStop = (row: string[]) => saysStopped((row[column] ?? '').trim());
    for (const row of [...[...late, ...sample].filter(saysStop), ...sample]) {
      const cell = (row[column] ?? '').trim().slice(0, 60);
      if (cell === '' || examples.has(cell) || examples.size >= 3) continue;
      examples.set(cell, {
        who: who(row),
        cell,
        if_grants: effect(cell, 'grants'),
        if_refuses: effect(cell, 'refuses'),
        if_stops: saysStopped(cell) ? 'will not be texted' : 'says nothing',
      });
    }
    const answer: BenchQuestions['texting'][number]['answer'] =
      match[column] === 'consent'
        ? 'consent'
        : match[column] === 'refusal'
          ? 'refusal'
          : stops.includes(column)
            ? 'stops'
            : not.includes(column)
              ? 'not'
              : null;
    return { column, heading, says, answer, examples: [...examples.values()] };
  });
  const columns = phoneColumns(headings, sample, country);
  const { best, others } = choosePhone(columns);
  const chosen = match.indexOf('number');
  return {
    texting,
    phones:
      columns.length < 2
        ? []
        : [...(best ? [best] : []), ...others].map((column) => ({
            column: column.column,
            heading: column.heading,
            why: whyPhone(column),
            chosen: column.column === chosen,
          })),
  };
}

const kept = 'The file is still on the bench.';

/**
 * What only a person can say is asked before anybody is texted: which column the numbers are, and what columns about texting mean.
 * @throws Refusal 422 with the place of the first that is open
 */
export async function refuseUnanswered(db: Queryable, staged: OnBench): Promise<void> {
  if (!staged.settings.match.includes('number'))
    throw new Refusal('wrong', 'no-number', 'No column is matched to “text number”, so nobody could be texted.', {
      place: 'match',
      act: 'Choose the column with the numbers.',
      kept,
    });
  const [open] = openTextingColumns(staged.facts.headings, await sampleOf(db, staged), staged.settings, staged.counts.stops);
  if (open)
    throw new Refusal('wrong', 'about-texts', `“${open.heading}” may say who does not want texts. Say what a yes in it means.`, {
      place: `column ${open.column + 1}`,
      act: 'Match it to “consent” or to “said no to texts”, or say that it is not about texts.',
      kept,
    });
}

/** Own references that would join strangers in the address book. @throws Refusal 422 until someone has said who they are */
export function refuseStrangers(staged: OnBench): void {
  const { reference_conflicts: conflicts = 0, conflict_examples: examples = [] } = staged.counts;
  if (conflicts === 0 || staged.settings.reference_conflict !== undefined) return;
  throw new Refusal(
    'wrong',
    'reference-conflict',
    `${conflicts === 1 ? 'One row has' : `${conflicts} rows have`} the own reference of someone with another name and another number.`,
    { place: examples[0] ? `row ${examples[0].row + 1}` : undefined, act: 'Say whether they are one person.', kept },
  );
}
