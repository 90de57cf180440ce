import type { ImportSettings } from '../../core/api/imports';
import { searchText, sortName } from '../../core/people/fold';
import type { Prepared } from '../../core/people/prepare';
import { iso, type Clock } from '../../core/clock';
import type { Db, Param, Tx } from '../db/db';
import type { Bus } from '../engine/bus';
import { findKnown, merged, type Known } from './dry-run';

const CHUNK = 2000;

interface Deciding {
  id: number;
  file_name: string;
  settings: ImportSettings;
  written: number;
  account_id: number | null;
  facts: { list_id?: number };
}

/**
 * Writes a decided import: chunk by chunk, each with its own mark in the same transaction, so that after a crash it
 * goes on where it was and ends whole. Call it after the decision and at every start.
 */
export async function rollForward(db: Db, clock: Clock, bus: Bus, importId: number): Promise<void> {
  const bulk = db.lane('bulk');
  for (;;) {
    const { rows } = await bulk.query<Deciding>(
      `SELECT id, file_name, settings, written, account_id, facts FROM import WHERE id = $1 AND state = 'writing'`,
      [importId],
    );
    if (rows.length === 0) return;
    const done = await bulk.transaction((tx) => writeChunk(tx, rows[0], iso(clock.now())));
    bus.changed('import', importId);
    if (done) {
      for (const table of ['person', 'list_member', 'consent_event']) await bulk.exec(`ANALYZE ${table}`);
      bus.changed('people');
      return;
    }
  }
}

/** Imports that a stopped server left half written. */
export async function unfinishedImports(db: Db): Promise<number[]> {
  return (await db.query<{ id: number }>(`SELECT id FROM import WHERE state = 'writing' ORDER BY id`)).rows.map((row) => row.id);
}

async function writeChunk(tx: Tx, deciding: Deciding, at: string): Promise<boolean> {
  const { rows } = await tx.query<{ row_no: number; prepared: Prepared; verdict: string; person_id: number | null }>(
    `SELECT row_no, prepared, verdict, person_id FROM import_verdict WHERE import_id = $1 AND verdict IN ('new', 'changed', 'unchanged') AND row_no > $2 ORDER BY row_no LIMIT ${CHUNK}`,
    [deciding.id, deciding.written],
  );
  if (rows.length === 0) {
    await tx.query(`UPDATE import SET state = 'done', done_at = $2::timestamptz WHERE id = $1`, [deciding.id, at]);
    await tx.query(`UPDATE list SET filling_import = NULL WHERE filling_import = $1`, [deciding.id]);
    return true;
  }
  // the world may have moved since the dry run, so who is known is looked up again here
  const knownFor = await findKnown(
    tx,
    rows.map((row) => row.prepared),
  );
  const fresh: Prepared[] = [];
  const changed: Known[] = [];
  const members: { id: number; person: Prepared; number: string | null }[] = [];
  for (const { prepared } of rows) {
    const known = knownFor(prepared);
    if (!known) {
      fresh.push(prepared);
      continue;
    }
    const next = merged(known, prepared, deciding.settings.already);
    if (next) changed.push(next);
    members.push({ id: known.id, person: prepared, number: next?.number ?? known.number });
  }
  const ids = (
    await tx.query<{ id: number }>(`SELECT nextval('person_id_seq') AS id FROM generate_series(1, $1::int)`, [fresh.length])
  ).rows.map((row) => row.id);
  await tx.copyIn(
    'person',
    [
      'id',
      'given_name',
      'family_name',
      'reference',
      'number',
      'number_country',
      'number_kind',
      'language',
      'zone',
      'zone_guessed',
      'fields',
      'search',
      'sort_name',
      'import_id',
      'created_at',
      'updated_at',
    ],
    [
      fresh.map((person, i): Param[] => [
        ids[i],
        person.given_name,
        person.family_name,
        person.reference,
        person.number,
        person.number_country,
        person.number_kind,
        person.language,
        person.zone,
        person.zone_guessed,
        JSON.stringify(person.fields),
        searchText(person),
        sortName(person),
        deciding.id,
        at,
        at,
      ]),
    ],
  );
  fresh.forEach((person, i) => members.push({ id: ids[i], person, number: person.number }));
  if (changed.length > 0) {
    await tx.query(
      `UPDATE person SET given_name = new.given_name, family_name = new.family_name, reference = new.reference, number = new.number, language = new.language,
         zone = new.zone, zone_guessed = new.zone_guessed, fields = new.fields, search = new.search, sort_name = new.sort_name, updated_at = $11::timestamptz
       FROM unnest($1::bigint[], $2::text[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[], $8::boolean[], $9::jsonb[], $10::text[], $12::text[])
         AS new (id, given_name, family_name, reference, number, language, zone, zone_guessed, fields, search, sort_name)
       WHERE person.id = new.id`,
      [
        changed.map((p) => p.id),
        changed.map((p) => p.given_name),
        changed.map((p) => p.family_name),
        changed.map((p) => p.reference),
        changed.map((p) => p.number),
        changed.map((p) => p.language),
        changed.map((p) => p.zone),
        changed.map((p) => p.zone_guessed),
        changed.map((p) => JSON.stringify(p.fields)),
        changed.map((p) => searchText(p)),
        at,
        changed.map((p) => sortName(p)),
      ],
    );
  }
  await writeMemberships(tx, deciding, members, at);
  await tx.query(`UPDATE import SET written = $2 WHERE id = $1`, [deciding.id, rows[rows.length - 1].row_no]);
  return false;
}

async function writeMemberships(
  tx: Tx,
  deciding: Deciding,
  members: readonly { id: number; person: Prepared; number: string | null }[],
  at: string,
): Promise<void> {
  if (deciding.facts.list_id) {
    await tx.query(`INSERT INTO list_member (list_id, person_id) SELECT $1, unnest($2::bigint[]) ON CONFLICT DO NOTHING`, [
      deciding.facts.list_id,
      members.map((m) => m.id),
    ]);
  }
  const tags = members.flatMap((member) => member.person.tags.map((tag) => [member.id, tag] as const));
  if (tags.length > 0) {
    await tx.query(`INSERT INTO tag (name) SELECT DISTINCT unnest($1::text[]) ON CONFLICT (name) DO NOTHING`, [
      tags.map(([, tag]) => tag),
    ]);
    await tx.query(
      `INSERT INTO person_tag (tag_id, person_id) SELECT tag.id, new.person_id FROM unnest($1::bigint[], $2::text[]) AS new (person_id, name) JOIN tag ON tag.name = new.name ON CONFLICT DO NOTHING`,
      [tags.map(([id]) => id), tags.map(([, tag]) => tag)],
    );
  }
  // consent belongs to a person and a number; the same word again is not a new event
  const consents = members.filter((member) => member.person.consent !== null && member.number !== null);
  if (consents.length > 0) {
    await tx.query(
      `INSERT INTO consent_event (person_id, number, purpose, act, how, evidence, account_id, at)
       SELECT new.person_id, new.number, $4, new.act, 'file', $5, $6, $7::timestamptz FROM unnest($1::bigint[], $2::text[], $3::text[]) AS new (person_id, number, act)
       WHERE new.act IS DISTINCT FROM (SELECT act FROM consent_event old WHERE old.person_id = new.person_id AND old.number = new.number AND old.purpose = $4 ORDER BY id DESC LIMIT 1)`,
      [
        consents.map((c) => c.id),
        consents.map((c) => c.number),
        consents.map((c) => c.person.consent),
        deciding.settings.consent_purpose,
        deciding.file_name,
        deciding.account_id,
        at,
      ],
    );
  }
}
