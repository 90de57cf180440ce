import { afterEach, describe, expect, test } from 'vitest';
import type { BenchQuestions, StagedImport } from '../../../core/api/people/imports';
import type { Draft } from '../../../core/plan/draft/draft';
import { emptyDb, ENGINES } from '../../db/testing/engines';
import { until } from '../../engine/testing/sending';
import { openDesk, type Desk } from '../../http/testing/desk';

type Shown = StagedImport & { questions: BenchQuestions };
interface Refused {
  title: string;
  place?: string;
  act?: string;
}

let desk: Desk | undefined;
afterEach(() => desk?.close());

describe.each(ENGINES)('a bench over HTTP, on %s', (kind) => {
  const open = async (body: string) => {
    const here = (desk = await openDesk(await emptyDb(kind)));
    return { here, ...(await put(here, body)) };
  };
  /** A file on the bench, read and checked. */
  async function put(here: Desk, body: string, name = 'a.csv') {
    const { id } = (await (await here.ask('post', `/api/imports/file?name=${name}`, 'manage', { body })).json()) as {
      id: number;
    };
    const see = () => here.json<Shown>('get', `/api/imports/${id}`);
    const change = async (part: Partial<StagedImport['settings']>) =>
      here.json<Shown & Refused>('put', `/api/imports/${id}/settings`, { ...(await see()).settings, ...part });
    const decide = async () => here.json<Refused>('post', `/api/imports/${id}/decide`, { version: (await see()).version });
    const undo = () => here.json<Refused>('post', `/api/imports/${id}/undo`);
    const done = () => until(async () => (await see()).state === 'done');
    return { id, see, change, decide, undo, done };
  }

  test('every state of an import can be looked at: what is read still, or could not be, has no rows', async () => {
    const { here, id, see } = await open('Mobile,First\n207-555-0142,Jo\n');
    expect((await here.json<{ rows: unknown[] }>('get', `/api/imports/${id}/rows`)).rows).toHaveLength(1);
    for (const state of ['reading', 'failed', 'given_up'] as const) {
      await here.app.db.query(
        `UPDATE import SET state = $2, settings = '{}', counts = '{}', facts = '{"headings":[],"notes":[]}' WHERE id = $1`,
        [id, state],
      );
      await here.app.db.query(`DELETE FROM import_verdict`);
      expect((await see()).state).toBe(state);
      expect((await here.json<{ rows: unknown[] }>('get', `/api/imports/${id}/rows`)).rows).toEqual([]);
      expect((await here.ask('get', `/api/imports/${id}/rejects.csv`, 'manage')).status).toBe(200);
    }
  });

  test('a column that may say who does not want texts is asked about, with real rows, and nobody comes in before', async () => {
    const { see, change, decide, done, here } = await open(
      'Mobile,First,Photo consent,Opted out\n207-555-0142,Jo,yes,\n207-555-0143,Ana,no,x\n',
    );
    const { questions, settings } = await see();
    expect(settings.match).toEqual(['number', 'given_name', 'skip', 'refusal']);
    expect(questions.texting).toEqual([
      {
        column: 2,
        heading: 'Photo consent',
        says: 'unclear',
        answer: null,
        examples: [
          { who: 'Jo', cell: 'yes', if_grants: 'may be texted', if_refuses: 'will not be texted', if_stops: 'says nothing' },
          { who: 'Ana', cell: 'no', if_grants: 'will not be texted', if_refuses: 'says nothing', if_stops: 'says nothing' },
        ],
      },
      {
        column: 3,
        heading: 'Opted out',
        says: 'refuses',
        answer: 'refusal',
        examples: [
          { who: 'Ana', cell: 'x', if_grants: 'may be texted', if_refuses: 'will not be texted', if_stops: 'says nothing' },
        ],
      },
    ]);
    expect(await decide()).toMatchObject({ status: 422, place: 'column 3' });
    expect((await here.json<Refused>('post', `/api/imports/1/use-once`)).status).toBe(422);
    expect((await change({ not_about_texts: [2] })).questions.texting[0].answer).toBe('not');
    expect((await decide()).status).toBe(200);
    await done();
    const { rows } = await here.app.db.query(
      `SELECT given_name AS name, act FROM person LEFT JOIN consent_now c ON c.person_id = person.id ORDER BY person.id`,
    );
    expect(rows).toEqual([
      { name: 'Jo', act: null },
      { name: 'Ana', act: 'withdrawn' },
    ]);
  });

  test('a file goes to the draft that asked for it, beside whom it had; where that is a draft no more, the file stays on the bench', async () => {
    const { here, id, see } = await open('Mobile,First,Text\n207-555-0142,Jo,Hello Jo\n');
    const draft = async () =>
      here.json<{ draft: Draft; version: number; state: string }>('get', `/api/broadcasts/${made.id}`, undefined);
    const made = await here.json<{ id: number }>('post', '/api/broadcasts', { name: 'Fog', people: [] });
    const before = await draft();
    await here.json('put', `/api/broadcasts/${made.id}`, {
      ...{ name: 'Fog', version: before.version },
      draft: { ...before.draft, to: [{ kind: 'everyone' }], words: 'Fog.' },
    });
    const use = (body: object) => here.json<Refused & { broadcast_id: number }>('post', `/api/imports/${id}/use-once`, body);
    await here.app.db.query(`UPDATE broadcast SET state = 'scheduled' WHERE id = $1`, [made.id]);
    expect(await use({ broadcast_id: made.id })).toMatchObject({ status: 409, title: 'That broadcast is no draft any more.' });
    expect(await use({ broadcast_id: 999 })).toMatchObject({ status: 409, title: 'That broadcast has been deleted.' });
    expect((await see()).state).toBe('open');
    await here.app.db.query(`UPDATE broadcast SET state = 'draft' WHERE id = $1`, [made.id]);
    expect((await use({ broadcast_id: made.id })).broadcast_id).toBe(made.id);
    expect((await see()).state).toBe('once');
    const { draft: now, version } = await draft();
    expect(now.to).toEqual([{ kind: 'everyone' }, { kind: 'file', id }]);
    // words that were there are not replaced by the file's
    expect([now.words, version]).toEqual(['Fog.', before.version + 2]);
  });

  test('a cell is corrected where it stands: it comes in as that, and what the file has can be put back', async () => {
    const { here, id, see, decide, done } = await open('Mobile,First\n207-555-01,Jo\n207-555-0150,Dao\n');
    const correct = (row: number, column: number, text: string) =>
      here.json<Shown & Refused>('put', `/api/imports/${id}/cell`, { row, column, text });
    const rejected = async () =>
      (await here.json<{ rows: { row_no: number; was: string[] | null; cells: string[] }[] }>('get', `/api/imports/${id}/rows`))
        .rows;
    expect((await see()).counts).toMatchObject({ new: 1, rejected: 1 });
    expect((await correct(1, 0, '207-555-0142')).counts).toMatchObject({ new: 2, rejected: 0 });
    expect((await rejected())[0]).toMatchObject({ cells: ['207-555-0142', 'Jo'], was: ['207-555-01', 'Jo'] });
    expect((await correct(1, 0, '207-555-01')).counts).toMatchObject({ new: 1, rejected: 1 });
    expect((await rejected())[0]).toMatchObject({ cells: ['207-555-01', 'Jo'], was: null });
    await correct(1, 0, '207 555 0142');
    // read again, the file is as it is, and that is said
    await here.json('put', `/api/imports/${id}/source`, { encoding: 'utf-8' });
    expect((await see()).facts.notes).toContain(
      'The file was read again as it is: what you had corrected in one row is as the file has it.',
    );
    expect((await see()).counts).toMatchObject({ new: 1, rejected: 1 });
    await correct(1, 0, '207 555 0142');
    expect(await correct(0, 0, 'Phone')).toMatchObject({ status: 422, place: 'row 1' });
    expect((await correct(9, 0, 'x')).status).toBe(404);
    const { version } = await see();
    expect((await here.json<Refused>('post', `/api/imports/${id}/decide`, { version: version - 1 })).status).toBe(409);
    expect((await decide()).status).toBe(200);
    await done();
    expect((await here.app.db.query(`SELECT number FROM person ORDER BY id`)).rows).toEqual([
      { number: '+12075550142' },
      { number: '+12075550150' },
    ]);
    expect((await correct(1, 0, 'late')).status).toBe(409);
  });

  test('what was said of a column goes when other headings are chosen', async () => {
    const { see, change } = await open('Mobile,Photo consent\nMobile,Consent to photos\n207-555-0142,yes\n');
    await change({ not_about_texts: [1] });
    await change({ heading_row: 1 });
    expect((await see()).questions.texting).toMatchObject([{ heading: 'Consent to photos', answer: null }]);
  });

  test('a reference that would join strangers stops the bench until someone has said who they are', async () => {
    const { here, decide, done } = await open('Member no,Mobile,First\nP-1,207-555-0142,Jo\n');
    expect((await decide()).status).toBe(200);
    await done();
    const second = await put(here, 'Member no,Mobile,First\nP-1,207-555-0150,Dao\n', 'b.csv');
    expect((await second.see()).counts).toMatchObject({ reference_conflicts: 1 });
    expect(await second.decide()).toMatchObject({ status: 422, place: 'row 2' });
    await second.change({ reference_conflict: 'other_person' });
    expect((await second.decide()).status).toBe(200);
    await second.done();
    expect((await here.app.db.query(`SELECT count(*) AS n FROM person`)).rows).toEqual([{ n: 2 }]);
  });

  test('of several columns of numbers the likeliest is proposed with its reason, the others are named', async () => {
    const { see } = await open('Mobile (do not text),Home phone,Cell,First\n207-555-0101,207-555-0102,207-555-0142,Jo\n');
    expect((await see()).questions.phones.map((each) => [each.heading, each.chosen, each.why.split(';')[0]])).toEqual([
      ['Cell', true, 'the heading says mobile'],
      ['Home phone', false, 'the heading says home'],
      ['Mobile (do not text)', false, 'the heading says not to text it'],
    ]);
  });

  test('read again in another encoding; a wrong version, and everything at a wrong moment, says what is going on', async () => {
    const { here, id, see, change, decide, undo, done } = await open('Mobile,First\n207-555-0142,Zoë\n');
    const reread = () => here.json<Shown & Refused>('put', `/api/imports/${id}/source`, { encoding: 'windows-1252' });
    expect(await reread()).toMatchObject({ status: 200, facts: { encoding: 'windows-1252' } });
    expect(await undo()).toMatchObject({ status: 409, title: 'Nobody has been brought in yet.' });
    const { version } = await see();
    expect(await here.json<Refused>('post', `/api/imports/${id}/decide`, { version: version - 1 })).toMatchObject({
      status: 409,
      title: 'The bench has been changed since these counts were made. Nothing was brought in.',
    });
    expect((await decide()).status).toBe(200);
    // the same decision again is the same decision
    expect((await decide()).status).toBe(200);
    await done();
    for (const late of [
      await change({ tags: ['late'] }),
      await reread(),
      await here.json<Refused>('delete', `/api/imports/${id}`),
    ])
      expect(late).toMatchObject({ status: 409, act: 'It can be undone, from the history of imports.' });
    expect((await undo()).status).toBe(200);
    await until(async () => (await see()).state === 'undone');
    expect(await decide()).toMatchObject({ status: 409, title: 'It has been undone.' });
  });

  test('given up, it leaves nothing on the bench, and says so', async () => {
    const { here, id, decide } = await open('Mobile,First\n207-555-0142,Jo\n');
    expect((await here.json('delete', `/api/imports/${id}`)).status).toBe(200);
    for (const table of ['import_row', 'import_verdict', 'import_refusal'])
      await until(async () => (await here.app.db.query(`SELECT 1 FROM ${table}`)).rowCount === 0);
    expect(await decide()).toMatchObject({ status: 409, title: 'It has been given up.', act: 'Choose the file again.' });
  });

  test('a file with which the server stopped twice is not read a third time', async () => {
    const { here, id, see } = await open('Mobile,First\n207-555-0142,Jo\n');
    await here.app.db.query(`UPDATE import SET state = 'reading', tries = 2 WHERE id = $1`, [id]);
    await here.app.imports.resume();
    await until(async () => (await see()).state === 'failed');
    expect((await see()).facts.failure).toBe('The server stopped twice while it read this file; it is not tried again.');
  });
});
