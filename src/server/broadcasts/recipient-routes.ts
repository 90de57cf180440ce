import { recipients, type Recipient, type WhichRecipients } from '../../core/api/recipients';
import { begun } from '../files/begun';
import { streamCsv } from '../files/delimited';
import { streamXlsx } from '../files/write-xlsx';
import type { App } from '../http/app-context';
import { idOf } from '../http/problem';
import { Download, route, type Route } from '../http/route';
import { kindsOfRecipients, partsOf, recipientsOf, streamRecipients } from './recipient-queries';

const HEADINGS = [
  'number',
  'given name',
  'family name',
  'language',
  'zone',
  'state',
  'why',
  'parts',
  'planned',
  'with carrier',
  'final',
  'words',
  'words for opting out',
  'what became of them',
];

/** Recipients as rows of a file, its headings first. */
export async function* recipientRows(pages: AsyncIterable<Recipient[]>): AsyncGenerator<string[][]> {
  yield [HEADINGS];
  for await (const page of pages)
    yield page.map((r) =>
      [
        r.number,
        r.given_name,
        r.family_name,
        r.language,
        r.zone,
        r.state.replaceAll('_', ' '),
        r.reason,
        r.parts,
        r.due_at,
        r.handed_at,
        r.final_at,
        r.body,
        r.after?.body,
        r.after?.state.replaceAll('_', ' '),
      ].map((value) => String(value ?? '')),
    );
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
