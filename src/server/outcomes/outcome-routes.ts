import { sumsOf } from '../../core/outcome/sums-of';
import { outcomes, type OutcomeRow, type OutcomesQuery } from '../../core/api/sending/outcomes';
import { runs } from '../../core/api/sending/runs';
import { overTime } from '../../core/outcome/over-time';
import { writeRecord } from '../db/record';
import type { Cell } from '../files/cell';
import { begun } from '../files/begun';
import { streamCsv } from '../files/delimited';
import { streamXlsx, XLSX } from '../files/write-xlsx';
import type { App } from '../app-context';
import { nothingHere } from '../../core/api/refusal';
import { idOf, Download, route, type Route } from '../http/route';
import { workspaceOf } from '../setup/for-others';
import { historyOf } from './person-history';
import { sayChoice, tallyOfRun } from './tally';
import { figuresOf, listOutcomes, outcomesOf, streamOutcomes, whichOutcomes } from './outcome-queries';

const HEADINGS = [
  'broadcast',
  'labels',
  'by',
  'sender',
  'state',
  'people',
  'delivered',
  'not delivered',
  'uncertain',
  'not sent',
  'answered',
  'clicked',
  'had a link',
  'opted out',
  'parts',
  'cost',
  'words',
];

export const outcomeRoutes: Route[] = [
  route(outcomes.list, async (app, asked) => listOutcomes(app.db, asked.query, (await workspaceOf(app.db)).zone)),
  route(outcomes.which, (app) => whichOutcomes(app.db)),
  route(outcomes.compare, async (app, asked) => {
    const ids = [...new Set(asked.query.ids.split(',').map(Number))];
    const runs = await outcomesOf(app.db, ids);
    if (runs.length < 2) throw nothingHere();
    return { runs };
  }),
  route(outcomes.overTime, async (app, asked) => {
    const { zone } = await workspaceOf(app.db);
    return overTime(await figuresOf(app.db, asked.query, zone), zone);
  }),
  route(outcomes.person, (app, asked) => historyOf(app.db, idOf(asked.params.id))),
  route(runs.tally, (app, asked) => tallyOfRun(app.db, idOf(asked.params.id))),
  route(runs.choose, async (app, asked) => {
    const id = idOf(asked.params.id);
    await app.db.transaction(async (tx) => {
      if (!(await sayChoice(tx, id, asked.body.choice))) throw nothingHere();
      await writeRecord(tx, asked, 'said which choice a reply makes', `reply ${id}`);
    });
    return {};
  }),
  route(
    outcomes.csv,
    async (app, asked) => new Download('outcomes.csv', 'text/csv; charset=utf-8', streamCsv(await fileOf(app, asked.query))),
  ),
  route(
    outcomes.xlsx,
    async (app, asked) => new Download('outcomes.xlsx', XLSX, streamXlsx('Outcomes', await fileOf(app, asked.query))),
  ),
];

async function fileOf(app: App, which: Omit<OutcomesQuery, 'skip'>): Promise<AsyncIterable<Cell[][]>> {
  const { zone } = await workspaceOf(app.db);
  return rowsOf(await begun(streamOutcomes(app.db, which, zone)), zone);
}

async function* rowsOf(pages: AsyncIterable<OutcomeRow[]>, zone: string): AsyncGenerator<Cell[][]> {
  yield [[`when (${zone})`, ...HEADINGS]];
  for await (const page of pages) yield page.map((run) => rowOf(run, zone));
}

function rowOf(run: OutcomeRow, zone: string): Cell[] {
  const sums = sumsOf(run.tally);
  return [
    { at: run.due_at, zone },
    run.name,
    run.labels.join(', '),
    run.by,
    run.sender,
    run.state,
    run.people,
    sums.delivered,
    sums.notDelivered,
    sums.uncertain,
    sums.notSent,
    run.answers,
    run.clicked,
    run.linked,
    run.opted_out,
    run.spent_parts,
    run.spent_micro / 1e6,
    run.words,
  ];
}
