import { recipients, type Recipient, type WhichRecipients } from '../../../core/api/sending/recipients';
import type { Cell } from '../../files/cell';
import { begun } from '../../files/begun';
import { streamCsv } from '../../files/delimited';
import { streamXlsx, XLSX } from '../../files/write-xlsx';
import type { App } from '../../app-context';
import { idOf, Download, route, type Route } from '../../http/route';
import { workspaceOf } from '../../setup/for-others';
import { kindsOfRecipients, partsOf, recipientsOf, streamRecipients } from './recipient-queries';

const spoken = (state: string | undefined) => state?.replaceAll('_', ' ');

/** The columns of the file: each with its heading and what stands in it. */
const COLUMNS: readonly (readonly [heading: string, value: (of: Recipient, zone: string) => Cell, timed?: 'timed'])[] = [
  ['number', (of) => of.number],
  ['given name', (of) => of.given_name],
  ['family name', (of) => of.family_name],
  ['language', (of) => of.language],
  ['zone', (of) => of.zone],
  ['state', (of) => spoken(of.state)],
  ['why', (of) => of.reason],
  ['parts', (of) => of.parts],
  ['planned', (of, zone) => of.due_at && { at: of.due_at, zone }, 'timed'],
  ['with carrier', (of, zone) => of.handed_at && { at: of.handed_at, zone }, 'timed'],
  ['final', (of, zone) => of.final_at && { at: of.final_at, zone }, 'timed'],
  ['words', (of) => of.body],
  ['words for opting out', (of) => of.after?.body],
  ['what became of them', (of) => spoken(of.after?.state)],
];

/** Recipients as rows of a file, its headings first; times are on the workspace's clock, and their headings say so. */
export async function* recipientRows(pages: AsyncIterable<Recipient[]>, zone: string): AsyncGenerator<Cell[][]> {
  yield [COLUMNS.map(([heading, , timed]) => (timed ? `${heading} (${zone})` : heading))];
  for await (const page of pages) yield page.map((each) => COLUMNS.map(([, value]) => value(each, zone)));
}

const tableOf = async (app: App, id: number, which: WhichRecipients) =>
  recipientRows(await begun(streamRecipients(app.db, id, which)), (await workspaceOf(app.db)).zone);

export const recipientRoutes: Route[] = [
  route(recipients.csv, async (app, { params, query }) => {
    const id = idOf(params.id);
    return new Download(`run-${id}.csv`, 'text/csv; charset=utf-8', streamCsv(await tableOf(app, id, query)));
  }),
  route(recipients.xlsx, async (app, { params, query }) => {
    const id = idOf(params.id);
    return new Download(`run-${id}.xlsx`, XLSX, streamXlsx('Recipients', await tableOf(app, id, query)));
  }),
  route(recipients.list, async (app, asked) => ({
    recipients: await recipientsOf(app.db, idOf(asked.params.id), asked.query),
  })),
  route(recipients.kinds, async (app, asked) => kindsOfRecipients(app.db, idOf(asked.params.id))),
  route(recipients.parts, async (app, asked) => ({
    parts: await partsOf(app.db, idOf(asked.params.id), idOf(asked.params.text)),
  })),
];
