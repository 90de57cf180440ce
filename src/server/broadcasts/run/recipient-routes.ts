import { recipients, type Recipient, type WhichRecipients } from '../../../core/api/sending/recipients';
import { begun } from '../../files/begun';
import { streamCsv } from '../../files/delimited';
import { streamXlsx } from '../../files/write-xlsx';
import type { App } from '../../app-context';
import { idOf, Download, route, type Route } from '../../http/route';
import { kindsOfRecipients, partsOf, recipientsOf, streamRecipients } from './recipient-queries';

const spoken = (state: string | undefined) => state?.replaceAll('_', ' ');

/** The columns of the file: each with its heading and what stands in it. */
const COLUMNS: readonly (readonly [heading: string, value: (of: Recipient) => string | number | null | undefined])[] = [
  ['number', (of) => of.number],
  ['given name', (of) => of.given_name],
  ['family name', (of) => of.family_name],
  ['language', (of) => of.language],
  ['zone', (of) => of.zone],
  ['state', (of) => spoken(of.state)],
  ['why', (of) => of.reason],
  ['parts', (of) => of.parts],
  ['planned', (of) => of.due_at],
  ['with carrier', (of) => of.handed_at],
  ['final', (of) => of.final_at],
  ['words', (of) => of.body],
  ['words for opting out', (of) => of.after?.body],
  ['what became of them', (of) => spoken(of.after?.state)],
];

/** Recipients as rows of a file, its headings first. */
export async function* recipientRows(pages: AsyncIterable<Recipient[]>): AsyncGenerator<string[][]> {
  yield [COLUMNS.map(([heading]) => heading)];
  for await (const page of pages) yield page.map((each) => COLUMNS.map(([, value]) => String(value(each) ?? '')));
}

const tableOf = async (app: App, id: number, which: WhichRecipients) =>
  recipientRows(await begun(streamRecipients(app.db, id, which)));

export const recipientRoutes: Route[] = [
  route(recipients.csv, async (app, { params, query }) => {
    const id = idOf(params.id);
    return new Download(`run-${id}.csv`, 'text/csv; charset=utf-8', streamCsv(await tableOf(app, id, query)));
  }),
  route(recipients.xlsx, async (app, { params, query }) => {
    const id = idOf(params.id);
    return new Download(
      `run-${id}.xlsx`,
      'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
      streamXlsx('Recipients', await tableOf(app, id, query)),
    );
  }),
  route(recipients.list, async (app, asked) => ({
    recipients: await recipientsOf(app.db, idOf(asked.params.id), asked.query),
  })),
  route(recipients.kinds, async (app, asked) => kindsOfRecipients(app.db, idOf(asked.params.id))),
  route(recipients.parts, async (app, asked) => ({
    parts: await partsOf(app.db, idOf(asked.params.id), idOf(asked.params.text)),
  })),
];
