import type { ImportCounts, ImportSettings, Verdict } from '../../core/api/imports';
import { fold } from '../../core/people/fold';
import type { Target } from '../../core/people/targets';
import { OFFERED_FIXES, prepareRow, SAFE_FIXES, type FixKind, type Prepared } from '../../core/people/prepare';
import { REPAIR_WORDS } from '../../core/phone/repair';
import type { Db, Param, Queryable } from '../db/db';

const CHUNK = 4000;

export interface Known {
  id: number;
  given_name: string;
  family_name: string;
  reference: string | null;
  number: string | null;
  language: string | null;
  zone: string | null;
  zone_guessed: boolean;
  fields: Record<string, string>;
}

/** People already here that a batch may be about: by number, by own reference, or by name for those without a number. */
export async function findKnown(db: Queryable, batch: readonly Prepared[]): Promise<(person: Prepared) => Known | undefined> {
  const numbers = batch.flatMap((person) => (person.number ? [person.number] : []));
  const references = batch.flatMap((person) => (person.reference ? [person.reference] : []));
  const names = batch.flatMap((person) => (person.number ? [] : [fold(`${person.given_name} ${person.family_name}`)]));
  const { rows } = await db.query<Known>(
    `SELECT id, given_name, family_name, reference, number, language, zone, zone_guessed, fields FROM person
     WHERE number = ANY ($1::text[]) OR (reference IS NOT NULL AND reference = ANY ($2::text[])) OR (number IS NULL AND search = ANY ($3::text[])) ORDER BY id`,
    [numbers, references, names],
  );
  const byNumber = new Map<string, Known>();
  const byReference = new Map<string, Known>();
  const byName = new Map<string, Known>();
  for (const row of rows) {
    if (row.number && !byNumber.has(row.number)) byNumber.set(row.number, row);
    if (row.reference && !byReference.has(row.reference)) byReference.set(row.reference, row);
    if (!row.number) byName.set(fold(`${row.given_name} ${row.family_name}`), row);
  }
  return (person) =>
    (person.reference ? byReference.get(person.reference) : undefined) ??
    (person.number ? byNumber.get(person.number) : byName.get(fold(`${person.given_name} ${person.family_name}`)));
}

/** The person as they will be after the import, by the bench's policy. Undefined when nothing changes. */
export function merged(known: Known, file: Prepared, already: ImportSettings['already']): Known | undefined {
  if (already === 'skip') return undefined;
  const over = already === 'overwrite';
  const pick = (here: string | null, there: string | null): string | null => (there && (over || !here) ? there : here);
  const fields = over ? { ...known.fields, ...file.fields } : { ...file.fields, ...known.fields };
  const next: Known = {
    ...known,
    given_name: pick(known.given_name, file.given_name) ?? '',
    family_name: pick(known.family_name, file.family_name) ?? '',
    reference: pick(known.reference, file.reference),
    number: pick(known.number, file.number),
    language: pick(known.language, file.language),
    zone: file.zone && !file.zone_guessed ? pick(known.zone_guessed ? null : known.zone, file.zone) : known.zone,
    fields,
  };
  next.zone_guessed = next.zone === known.zone ? known.zone_guessed : false;
  return JSON.stringify(next) === JSON.stringify({ ...known, fields: { ...fields, ...known.fields } }) &&
    Object.keys(fields).every((key) => known.fields[key] === fields[key])
    ? undefined
    : next;
}

/**
 * What would happen, row by row, written to import_verdict (replacing the last answer) and counted. Nothing of the
 * address book is touched.
 */
export async function dryRun(
  db: Db,
  importId: number,
  settings: ImportSettings,
  languages: readonly string[],
): Promise<ImportCounts> {
  const bulk = db.lane('bulk');
  const counts: ImportCounts = {
    new: 0,
    changed: 0,
    unchanged: 0,
    twice: 0,
    rejected: 0,
    waiting: 0,
    fixes: [],
    reasons: [],
    opted_out: 0,
    consent_no: 0,
  };
  const fixes = new Map<FixKind, ImportCounts['fixes'][number]>();
  const reasons = new Map<string, ImportCounts['reasons'][number]>();
  const rules = {
    match: settings.match as Target[],
    country: settings.country,
    fixes: new Set<FixKind>(settings.fixes),
    languages,
  };
  const register = new Set(
    (await bulk.query<{ number: string }>(`SELECT number FROM suppression`)).rows.map((row) => row.number),
  );
  const seen = new Map<string, number>();
  await bulk.query(`DELETE FROM import_verdict WHERE import_id = $1`, [importId]);
  for (let after = settings.heading_row; ;) {
    const { rows } = await bulk.query<{ row_no: number; cells: string[] }>(
      `SELECT row_no, cells FROM import_row WHERE import_id = $1 AND row_no > $2 ORDER BY row_no LIMIT ${CHUNK}`,
      [importId, after],
    );
    if (rows.length === 0) break;
    after = rows[rows.length - 1].row_no;
    const read = rows.map((row) => ({ row, result: prepareRow(row.cells, rules) }));
    const knownFor = await findKnown(
      bulk,
      read.flatMap(({ result }) => (result.ok ? [result.person] : [])),
    );
    const verdicts: Param[][] = [];
    for (const { row, result } of read) {
      if (row.cells.every((cell) => cell.trim() === '')) continue; // an empty line is no person
      if (result.fix) {
        const fix = result.fix;
        const known = fixes.get(fix.kind);
        if (known) known.count += 1;
        else
          fixes.set(fix.kind, {
            kind: fix.kind,
            words: REPAIR_WORDS[fix.kind],
            count: 1,
            applied: rules.fixes.has(fix.kind),
            safe: SAFE_FIXES.includes(fix.kind),
            fixable: SAFE_FIXES.includes(fix.kind) || OFFERED_FIXES.includes(fix.kind),
            before: fix.before,
            after: fix.after,
          });
      }
      let verdict: Verdict;
      let reason: string | null = null;
      let personId: number | null = null;
      if (!result.ok) {
        verdict = 'rejected';
        reason = result.reason;
        if (reason.startsWith('waits for your fix')) counts.waiting += 1;
        else {
          const known = reasons.get(reason);
          if (known) known.count += 1;
          else
            reasons.set(reason, {
              reason,
              count: 1,
              example: result.fix?.before ?? row.cells[settings.match.indexOf('number')] ?? '',
            });
        }
      } else {
        const { person } = result;
        const key = person.number ?? `${fold(`${person.given_name} ${person.family_name}`)}|${person.reference ?? ''}`;
        const first = seen.get(key);
        const known = knownFor(person);
        if (person.number && register.has(person.number)) counts.opted_out += 1;
        if (person.consent === 'withdrawn') counts.consent_no += 1;
        if (first !== undefined) {
          verdict = 'twice';
          reason = `same number as row ${first + 1}`;
        } else if (known) {
          verdict = merged(known, person, settings.already) ? 'changed' : 'unchanged';
          personId = known.id;
        } else verdict = 'new';
        if (first === undefined) seen.set(key, row.row_no);
      }
      counts[verdict] += 1;
      verdicts.push([
        importId,
        row.row_no,
        verdict,
        reason,
        result.fix?.kind ?? null,
        personId,
        result.ok ? JSON.stringify(result.person) : null,
      ]);
    }
    await bulk.copyIn('import_verdict', ['import_id', 'row_no', 'verdict', 'reason', 'fix', 'person_id', 'prepared'], [verdicts]);
  }
  counts.fixes = [...fixes.values()].sort((a, b) => Number(b.safe) - Number(a.safe) || b.count - a.count);
  counts.reasons = [...reasons.values()].sort((a, b) => b.count - a.count);
  return counts;
}
