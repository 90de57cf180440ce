import { people, type ExportQuery } from '../../core/api/people';
import { fold } from '../../core/people/fold';
import type { App } from '../http/app-context';
import { streamCsv } from '../files/delimited';
import { writeVcards } from '../files/write-vcard';
import { streamXlsx } from '../files/write-xlsx';
import { Download, route, type Asked, type Route } from '../http/route';
import { writeRecord } from '../db/record';
import { Binder } from '../audience/rule-sql';
import { filterOf, REACH_CASE, todayOf, whereOf } from './people-queries';
import type { StoredPerson } from './person-store';

export type Exported = StoredPerson & { reach: string; tags: string[]; lists: string[]; marketing: string | null };

/** The people of a filter in their order by name, page by page. What is wrong with the filter is said before anything is given. */
async function exported(app: App, asked: Asked<unknown, ExportQuery>): Promise<AsyncIterable<Exported[]>> {
  const binder = new Binder();
  const where = whereOf(await filterOf(app.db, asked.query), binder, await todayOf(app.db, asked.now));
  return app.db.stream<Exported>(
    `SELECT person.*, ${REACH_CASE} AS reach,
       ARRAY(SELECT tag.name FROM person_tag JOIN tag ON tag.id = tag_id WHERE person_id = person.id ORDER BY tag.name) AS tags,
       ARRAY(SELECT list.name FROM list_member JOIN list ON list.id = list_id WHERE person_id = person.id ORDER BY list.name) AS lists,
       (SELECT act FROM consent_event c WHERE c.person_id = person.id AND c.number = person.number AND c.purpose = 'marketing' ORDER BY c.id DESC LIMIT 1) AS marketing
     FROM person WHERE ${where} ORDER BY sort_name, id`,
    binder.params,
    2000,
  );
}

/** Rows in pages. The headings are those that the bench matches by itself when the file comes back; what cannot come back stands last. */
async function* table(
  app: App,
  asked: Asked<unknown, ExportQuery>,
  pages: AsyncIterable<Exported[]>,
): AsyncGenerator<string[][]> {
  const fields = (
    await app.db.query<{ slug: string; label: string }>(
      `SELECT slug, label FROM field_def WHERE about = 'person' ORDER BY position, label`,
    )
  ).rows;
  yield [
    [
      'given name',
      'family name',
      'text number',
      'own reference',
      'language',
      'time zone',
      'born',
      ...fields.map((field) => field.label),
      'tags',
      'lists',
      'marketing',
      'can be texted',
    ],
  ];
  let people = 0;
  for await (const page of pages) {
    people += page.length;
    yield page.map((p) => [
      p.given_name,
      p.family_name,
      p.number ?? '',
      p.reference ?? '',
      p.language ?? '',
      // a guess is not handed on as if it had been told
      p.zone_guessed ? '' : (p.zone ?? ''),
      p.born ?? '',
      ...fields.map((field) => p.fields[field.slug] ?? ''),
      p.tags.join(', '),
      p.lists.join(', '),
      p.marketing === 'cleared' ? '' : (p.marketing ?? ''),
      p.reach,
    ]);
  }
  await writeRecord(app.db, asked, 'exported people', '', { people });
}

async function* cards(app: App, asked: Asked<unknown, ExportQuery>, pages: AsyncIterable<Exported[]>): AsyncGenerator<string> {
  let people = 0;
  for await (const page of pages) {
    people += page.length;
    yield writeVcards(page);
  }
  await writeRecord(app.db, asked, 'exported people', 'vCard', { people });
}

const nameOf = (asked: Asked<unknown, ExportQuery>) =>
  `people${asked.query.name ? `-${fold(asked.query.name).replace(/[^a-z0-9]+/g, '-')}` : ''}`;

export const exportRoutes: Route[] = [
  route(
    people.exportCsv,
    async (app, asked) =>
      new Download(`${nameOf(asked)}.csv`, 'text/csv; charset=utf-8', streamCsv(table(app, asked, await exported(app, asked)))),
  ),
  route(
    people.exportXlsx,
    async (app, asked) =>
      new Download(
        `${nameOf(asked)}.xlsx`,
        'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
        streamXlsx('People', table(app, asked, await exported(app, asked))),
      ),
  ),
  route(
    people.exportVcf,
    async (app, asked) =>
      new Download(`${nameOf(asked)}.vcf`, 'text/vcard; charset=utf-8', cards(app, asked, await exported(app, asked))),
  ),
];
