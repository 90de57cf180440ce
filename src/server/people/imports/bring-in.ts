import type { Prepared, PreparedRow } from '../../../core/people/prepare';
import { fold } from '../../../core/text/fold';
import { oneLine } from '../../../core/text/tidy';
import { iso, type Clock } from '../../../core/clock';
import type { Db, Param, Tx } from '../../db/db';
import { Chunks } from '../../db/chunks';
import { countAnew } from '../../db/statistics';
import type { Bus } from '../../desk/bus';
import { bringDependants } from './bring-dependants';
import type { RowRules } from '../../../core/people/read-rows';
import { nextRows } from './file-rows';
import { rulesOf } from './import-rules';
import { findKnown, merged, OfFile, strangers } from './joining';
import { insertPeople, reserveIds, updatePeople, type StoredPerson } from '../../address-book/for-others';
import { rowsReadHere, type RowReading } from './row-thread';
import type { Deciding, Placed } from './placed';

/**
 * Writes a decided import: chunk by chunk, each with its own mark in the same transaction, so that after a crash it
 * goes on where it was and ends whole. Call it after the decision and at every start.
 */
export async function rollForward(
  db: Db,
  clock: Clock,
  bus: Bus,
  importId: number,
  reading: RowReading = rowsReadHere(),
): Promise<void> {
  const bulk = db.lane('bulk');
  const chunks = new Chunks(db);
  let rules: RowRules | undefined;
  for (;;) {
    const { rows } = await bulk.query<Deciding>(
      `SELECT id, file_name, settings, written_row, account_id, decided_at, facts, counts FROM import WHERE id = $1 AND state = 'writing'`,
      [importId],
    );
    if (rows.length === 0) return;
    const use = (rules ??= await rulesOf(bulk, rows[0].settings));
    // one moment for the whole import, however long it takes: that of its decision
    const at = rows[0].decided_at ?? iso(clock.now());
    const done = await chunks.take((size) => writeChunk(bulk, rows[0], use, at, size, reading));
    bus.changed('import', importId);
    if (done) {
      await countAnew(db, ['person', 'list_member', 'consent_event', 'dependant', 'guardianship']);
      bus.changed('people');
      return;
    }
  }
}

/** Imports that a stopped server left half written. */
export async function unfinishedImports(db: Db): Promise<number[]> {
  return (await db.query<{ id: number }>(`SELECT id FROM import WHERE state = 'writing' ORDER BY id`)).rows.map((row) => row.id);
}

/** Rows named twice still count when they are about another dependant of the same contact. */
const COMING_IN = ['new', 'changed', 'unchanged', 'twice'];

async function writeChunk(
  bulk: Db,
  deciding: Deciding,
  rules: RowRules,
  at: string,
  size: number,
  reading: RowReading,
): Promise<boolean> {
  const { id, written_row: written } = deciding;
  const rows = await nextRows(bulk, id, { after: written, last: written + size, verdicts: COMING_IN }, size);
  if (rows.length === 0) return passStretch(bulk, deciding, written + size, at);
  const upTo = rows[rows.length - 1].row_no;
  const twice = new Set(rows.flatMap((row) => (row.verdict === 'twice' ? [row.row_no] : [])));
  const all = (await reading.read(rules, rows)).rows.flatMap(({ no, result }) =>
    result.ok && (!twice.has(no) || result.row.dependant) ? [{ no, row: result.row }] : [],
  );
  await bulk.transaction(async (tx) => {
    const erased = await erasedSince(tx, id, written, upTo);
    const read = all.filter(({ no }) => !erased.has(no));
    const placed = await placePeople(tx, deciding, rules, read, at);
    await writeMemberships(
      tx,
      deciding,
      placed.flatMap((each) => (each.row.person === each.person ? [each] : [])),
      at,
    );
    await bringDependants(tx, id, placed, rules.dependantTypes, at, deciding.facts.list_id ?? null);
    const counted = read.filter(({ no }) => !twice.has(no)).length;
    await tx.query(`UPDATE import SET written_row = $2, wrote = wrote + $3::int WHERE id = $1`, [id, upTo, counted]);
  });
  return false;
}

/** Nothing comes in of this stretch of the file: on to where something does, or to the end. */
async function passStretch(db: Db, deciding: Deciding, upTo: number, at: string): Promise<boolean> {
  return db.transaction(async (tx) => {
    const { rows } = await tx.query<{ row_no: number | null }>(
      `SELECT min(row_no) AS row_no FROM import_verdict WHERE import_id = $1 AND row_no > $2`,
      [deciding.id, upTo],
    );
    if (rows[0].row_no === null) {
      await finish(tx, deciding, at);
      return true;
    }
    await tx.query(`UPDATE import SET written_row = $2 WHERE id = $1`, [deciding.id, rows[0].row_no - 1]);
    return false;
  });
}

/** Rows whose person was erased after they were read: their cells are empty now, and nobody comes in by them. */
async function erasedSince(tx: Tx, id: number, after: number, last: number): Promise<Set<number>> {
  const { rows } = await tx.query<{ row_no: number }>(
    `SELECT row_no FROM import_row WHERE import_id = $1 AND row_no > $2 AND row_no <= $3 AND cells = '{}'`,
    [id, after, last],
  );
  return new Set(rows.map((row) => row.row_no));
}

/** Gives every row's people their ids: those already here, those of earlier rows, and new ones. */
async function placePeople(
  tx: Tx,
  deciding: Deciding,
  rules: RowRules,
  read: readonly { no: number; row: PreparedRow }[],
  at: string,
): Promise<Placed[]> {
  const { already, reference_conflict } = deciding.settings;
  // the world may have moved since the dry run, so who is known is looked up again here
  const knownFor = await findKnown(
    tx,
    read.flatMap(({ row }) => [row.person, ...(row.second ? [row.second] : [])]),
    deciding.settings,
  );
  const changed = new Map<number, { before: StoredPerson; after: StoredPerson }>();
  const same = new Set<number>();
  // those who are new, each with the id that they get below
  const waiting: StoredPerson[] = [];
  const ofFile = new OfFile<StoredPerson>(deciding.settings);
  // references of this file whose first bearer is a stranger to a later one
  const bearers = new Map<string, Prepared>();
  const place = (given: Prepared, no: number): (() => { id: number; number: string | null }) => {
    let person = given;
    const found = knownFor(person, no);
    const { person: known } = found;
    const bearer = person.reference === null ? undefined : bearers.get(person.reference);
    const another = found.conflict !== undefined || (bearer !== undefined && strangers(bearer, person));
    // another person, as was said: the reference stays with whoever has it
    if (another && reference_conflict !== 'same_person') person = { ...person, reference: null };
    else if (person.reference !== null && !bearer) bearers.set(person.reference, person);
    if (!known) {
      const before = ofFile.find(person, no);
      const one = before ?? { ...person, id: 0 };
      if (!before) {
        waiting.push(one);
        ofFile.add(one);
      }
      return () => ({ id: one.id, number: one.number });
    }
    const before = changed.get(known.id);
    const next = merged(before?.after ?? known, person, already);
    if (next) changed.set(known.id, { before: before?.before ?? known, after: next });
    else same.add(known.id);
    return () => ({ id: known.id, number: changed.get(known.id)?.after.number ?? known.number });
  };
  const places = read.map(({ no, row }) => ({
    row,
    first: place(row.person, no),
    second: row.second ? place(row.second, no) : undefined,
  }));
  const ids = await reserveIds(tx, 'person', waiting.length);
  waiting.forEach((each, i) => (each.id = ids[i]));
  await insertPeople(tx, waiting, rules.types, { at, importId: deciding.id });
  await updatePeople(
    tx,
    [...changed.values()].map((each) => each.after),
    rules.types,
    at,
  );
  await remember(tx, deciding.id, changed, same);
  const made = new Set(ids);
  return places.map(({ row, first, second }): Placed => {
    const one = first();
    return { ...one, fresh: made.has(one.id), person: row.person, row, secondId: second?.().id };
  });
}

/** What the import did to people who were here before, for its undoing; those it made bear its id. */
async function remember(
  tx: Tx,
  importId: number,
  changed: ReadonlyMap<number, { before: StoredPerson; after: StoredPerson }>,
  same: ReadonlySet<number>,
): Promise<void> {
  const others: [number, string, string | null, string | null][] = [
    ...[...changed].map(([id, each]): [number, string, string, string] => [
      id,
      'changed',
      JSON.stringify(each.before),
      JSON.stringify(each.after),
    ]),
    ...[...same].filter((id) => !changed.has(id)).map((id): [number, string, null, null] => [id, 'same', null, null]),
  ];
  if (others.length === 0) return;
  // someone whom an earlier chunk has touched already keeps what they were before the import
  await tx.query(
    `INSERT INTO import_change (import_id, person_id, kind, before, after)
     SELECT $1, * FROM unnest($2::bigint[], $3::text[], $4::jsonb[], $5::jsonb[])
     ON CONFLICT (import_id, person_id) DO UPDATE SET after = excluded.after, before = coalesce(import_change.before, excluded.before),
       kind = 'changed' WHERE excluded.kind = 'changed'`,
    [
      importId,
      others.map((each) => each[0]),
      others.map((each) => each[1]),
      others.map((each) => each[2]),
      others.map((each) => each[3]),
    ],
  );
}

async function writeMemberships(tx: Tx, deciding: Deciding, members: readonly Placed[], at: string): Promise<void> {
  const { settings } = deciding;
  const list = deciding.facts.list_id;
  if (list) {
    // whoever this chunk made is on no list yet
    const fresh = [...new Set(members.flatMap((member) => (member.fresh ? [member.id] : [])))];
    await tx.copyIn('list_member', ['list_id', 'person_id'], [fresh.map((id): Param[] => [list, id])]);
    const others = [...new Set(members.flatMap((m) => (m.fresh ? [] : [m.id])))];
    if (others.length > 0)
      await tx.query(
        `WITH added AS (INSERT INTO list_member (list_id, person_id) SELECT $1, unnest($2::bigint[]) ON CONFLICT DO NOTHING RETURNING list_id, person_id)
       INSERT INTO import_touch (import_id, kind, target_id, person_id) SELECT $3, 'list', list_id, person_id FROM added ON CONFLICT DO NOTHING`,
        [list, others, deciding.id],
      );
  }
  const tags = members.flatMap((member) =>
    [...new Set([...member.person.tags, ...settings.tags.map(oneLine).filter((tag) => tag !== '')])].map(
      (tag) => [member.id, tag] as const,
    ),
  );
  if (tags.length > 0) {
    await tx.query(`INSERT INTO tag (name) SELECT DISTINCT unnest($1::text[]) ON CONFLICT (name) DO NOTHING`, [
      tags.map(([, tag]) => tag),
    ]);
    await tx.query(
      `WITH added AS (
         INSERT INTO person_tag (tag_id, person_id) SELECT DISTINCT tag.id, new.person_id FROM unnest($1::bigint[], $2::text[]) AS new (person_id, name) JOIN tag ON tag.name = new.name
         ON CONFLICT DO NOTHING RETURNING tag_id, person_id)
       INSERT INTO import_touch (import_id, kind, target_id, person_id) SELECT $3, 'tag', tag_id, person_id FROM added ON CONFLICT DO NOTHING`,
      [tags.map(([id]) => id), tags.map(([, tag]) => tag), deciding.id],
    );
  }
  await writeNamedLists(tx, deciding, members);
  await writeConsents(tx, deciding, members, at);
}

/** Lists that the file names row by row; those that it puts somebody on are remembered for its undoing. */
async function writeNamedLists(tx: Tx, deciding: Deciding, members: readonly Placed[]): Promise<void> {
  const ids = new Map((deciding.facts.lists ?? []).map(({ key, id }) => [key, id]));
  const on = members.flatMap((member) =>
    member.person.lists.flatMap((name) => {
      const list = ids.get(fold(name));
      return list === undefined ? [] : [[member.id, list] as const];
    }),
  );
  if (on.length === 0) return;
  await tx.query(
    `WITH added AS (
       INSERT INTO list_member (list_id, person_id) SELECT DISTINCT new.list_id, new.person_id FROM unnest($1::bigint[], $2::bigint[]) AS new (person_id, list_id)
       ON CONFLICT DO NOTHING RETURNING list_id, person_id)
     INSERT INTO import_touch (import_id, kind, target_id, person_id) SELECT $3, 'list', list_id, person_id FROM added ON CONFLICT DO NOTHING`,
    [on.map(([id]) => id), on.map(([, list]) => list), deciding.id],
  );
}

/**
 * Consent belongs to a person and a number; the same word again is not a new event. A file never lifts what someone
 * withdrew in their own words: only a "no" that came from a file gives way to a later file's "yes".
 */
async function writeConsents(tx: Tx, deciding: Deciding, members: readonly Placed[], at: string): Promise<void> {
  const { settings } = deciding;
  const reached = members.filter((member) => member.number !== null && member.number === member.person.number);
  const { rows } = await tx.query<{ number: string }>(
    `SELECT number FROM import_refusal WHERE import_id = $1 AND number = ANY ($2::text[])`,
    [deciding.id, reached.map((member) => member.number)],
  );
  // a no anywhere in the file counts for its number: that is written at the end, and no yes is written before
  const refused = new Set(rows.map((row) => row.number));
  const said = reached
    .filter((member) => !refused.has(member.number ?? ''))
    .flatMap((member) => {
      if (member.person.consent !== null)
        return [
          {
            id: member.id,
            number: member.number,
            act: member.person.consent,
            how: 'file',
            evidence: deciding.file_name,
            wording: '',
          },
        ];
      const all = settings.consent_all;
      return all ? [{ id: member.id, number: member.number, act: 'granted', ...all }] : [];
    });
  if (said.length === 0) return;
  await tx.query(
    `INSERT INTO consent_event (person_id, number, purpose, act, how, evidence, wording, account_id, at, import_id)
     SELECT new.id, new.number, $2, new.act, new.how, new.evidence, new.wording, $3, $4::timestamptz, $5
     FROM (SELECT DISTINCT ON (id) * FROM jsonb_to_recordset($1::jsonb) AS r (id bigint, number text, act text, how text, evidence text, wording text) ORDER BY id) AS new
     LEFT JOIN LATERAL (SELECT act, how, import_id FROM consent_event old WHERE old.person_id = new.id AND old.number = new.number AND old.purpose = $2 ORDER BY old.id DESC LIMIT 1) AS old ON true
     WHERE new.act IS DISTINCT FROM old.act AND NOT (coalesce(old.act, '') = 'withdrawn' AND new.act = 'granted' AND old.import_id IS NULL)`,
    [JSON.stringify(said), settings.consent_purpose, deciding.account_id, at, deciding.id],
  );
}

/** Whoever has a number to which some row of the file says no has said no, also when no row of theirs came in. */
async function writeRefusals(tx: Tx, deciding: Deciding, at: string): Promise<void> {
  const { rows } = await tx.query<{ person_id: number }>(
    `INSERT INTO consent_event (person_id, number, purpose, act, how, evidence, wording, account_id, at, import_id)
     SELECT person.id, person.number, $2, 'withdrawn', 'file', $3, '', $4, $5::timestamptz, $1
     FROM import_refusal r JOIN person ON person.number = r.number
     LEFT JOIN consent_now now ON now.person_id = person.id AND now.number = person.number AND now.purpose = $2
     WHERE r.import_id = $1 AND now.act IS DISTINCT FROM 'withdrawn' RETURNING person_id`,
    [deciding.id, deciding.settings.consent_purpose, deciding.file_name, deciding.account_id, at],
  );
  // so that undoing the import gives back what was so before
  await tx.query(
    `INSERT INTO import_change (import_id, person_id, kind) SELECT $1, p.id, 'same' FROM person p
     WHERE p.id = ANY ($2::bigint[]) AND p.import_id IS DISTINCT FROM $1 ON CONFLICT DO NOTHING`,
    [deciding.id, rows.map((row) => row.person_id)],
  );
}

async function finish(tx: Tx, deciding: Deciding, at: string): Promise<void> {
  if (deciding.settings.missing === 'take_off' && deciding.facts.list_id) {
    // for whom they were there goes with their membership, and comes back with it where the import is undone
    await tx.query(
      `INSERT INTO import_touch (import_id, kind, target_id, person_id) SELECT $1, 'off_for', f.dependant_id, f.person_id FROM list_member_for f
       WHERE f.list_id = $2 AND NOT EXISTS (SELECT 1 FROM import_change c WHERE c.import_id = $1 AND c.person_id = f.person_id)
         AND NOT EXISTS (SELECT 1 FROM person p WHERE p.id = f.person_id AND p.import_id = $1)`,
      [deciding.id, deciding.facts.list_id],
    );
    await tx.query(
      `WITH gone AS (
         DELETE FROM list_member WHERE list_id = $2 AND NOT EXISTS (SELECT 1 FROM import_change c WHERE c.import_id = $1 AND c.person_id = list_member.person_id)
           AND NOT EXISTS (SELECT 1 FROM person p WHERE p.id = list_member.person_id AND p.import_id = $1)
         RETURNING list_id, person_id)
       INSERT INTO import_touch (import_id, kind, target_id, person_id) SELECT $1, 'off_list', list_id, person_id FROM gone`,
      [deciding.id, deciding.facts.list_id],
    );
  }
  await writeRefusals(tx, deciding, at);
  const { counts } = deciding;
  await tx.query(
    `UPDATE import SET state = 'done', done_at = $2::timestamptz,
       facts = facts || CASE WHEN wrote IS NULL OR wrote = $3::int THEN '{}'::jsonb ELSE jsonb_build_object('differs', jsonb_build_object('said', $3::int, 'wrote', wrote)) END
     WHERE id = $1`,
    [deciding.id, at, counts.new + counts.changed + counts.unchanged],
  );
  await tx.query(`UPDATE list SET filling_import = NULL WHERE filling_import = $1`, [deciding.id]);
}
