import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { Change, ImportCounts, Verdict } from '../../../core/api/people/imports';
import { calledName, type Called } from '../../../core/people/another-name';
import type { Stop } from '../../../core/people/late-stops';
import { OFFERED_FIXES, SAFE_FIXES } from '../../../core/people/mend-number';
import type { FixKind, Prepared, PreparedRow, RowRead } from '../../../core/people/prepare';
import { showPhone } from '../../../core/phone/read';
import { REPAIR_WORDS } from '../../../core/phone/repair';
import type { Db, Param } from '../../db/db';
import { Chunks } from '../../db/chunks';
import { sealedAmong } from '../../db/sealed';
import { clearRows, nextRows } from './file-rows';
import { rowRange, rulesOf } from './import-rules';
import { changesOf, findKnown, merged, OfFile, strangers, type Joining } from './joining';
import { Refusals } from './refusals';
import { rowsReadHere, type RowReading } from './row-thread';

/**
 * What would happen, row by row, written to import_verdict (replacing the last answer) and counted. Nothing of the
 * address book is touched. `at` is told after each chunk which row it has come to; when it answers false, the dry run
 * stops (a newer one is wanted) and undefined is returned.
 */
export async function dryRun(
  db: Db,
  importId: number,
  settings: ImportSettings,
  at: (row: number) => Promise<boolean> | boolean = () => true,
  reading: RowReading = rowsReadHere(),
): Promise<ImportCounts | undefined> {
  const bulk = db.lane('bulk');
  const rules = await rulesOf(bulk, settings);
  const tally = new Tally();
  const range = rowRange(settings);
  const seen: Seen = { rows: new OfFile(settings), bearers: new Map() };
  const refusals = new Refusals();
  await clearRows(bulk, importId, ['import_verdict']);
  const chunks = new Chunks(db, 500);
  let verdictsWritten = 0;
  for (let after = range.first - 1; ;) {
    const rows = await nextRows(bulk, importId, { after, last: range.last }, chunks.rows);
    if (rows.length === 0) break;
    after = rows[rows.length - 1].row_no;
    const { rows: read, ambiguousDays, stops } = await reading.read(rules, rows);
    tally.counts.ambiguous_days += ambiguousDays;
    tally.stops(stops);
    const people = read.flatMap(({ result }) =>
      result.ok ? [result.row.person, ...(result.row.second ? [result.row.second] : [])] : [],
    );
    const knownFor = await findKnown(bulk, people, settings);
    const stopped = new Set(
      (
        await bulk.query<{ number: string }>(`SELECT number FROM suppression WHERE number = ANY ($1::text[])`, [
          people.flatMap((p) => (p.number ? [p.number] : [])),
        ])
      ).rows.map((row) => row.number),
    );
    for (const number of await sealedAmong(
      bulk,
      people.flatMap((p) => p.number ?? []),
    ))
      stopped.add(number);
    const verdicts: Param[][] = [];
    for (const { no, result, example } of read) {
      tally.read(result);
      refusals.hear(result.said);
      let verdict: Verdict;
      let reason: string | null = null;
      let personId: number | null = null;
      let changes: Change[] | null = null;
      let otherName: string | null = null;
      if (!result.ok) {
        verdict = 'rejected';
        reason = result.reason;
        tally.rejected(reason, example);
      } else if (settings.landlines === 'leave_out' && result.row.person.number_kind === 'fixed') {
        verdict = 'set_aside';
        reason = 'fixed line, left out by you';
      } else {
        const { person } = result.row;
        const found = knownFor(person, no);
        const other = found.otherwise ?? (found.person ? undefined : seen.rows.otherwise(person));
        const { first, conflict } = firstRow(seen, result.row, settings, no, found.person?.id);
        if (other) {
          otherName = calledName(other);
          tally.otherName(no, person, other);
        }
        const known = found.person;
        const stranger = found.conflict ?? conflict;
        if (stranger) tally.conflict(person, no, stranger);
        tally.person(result.row, person.number !== null && stopped.has(person.number));
        if (first !== undefined) {
          verdict = 'twice';
          reason = `same ${first.by} as row ${first.row + 1}`;
        } else if (known) {
          const next = merged(known, stranger ? { ...person, reference: null } : person, settings.already);
          verdict = next ? 'changed' : 'unchanged';
          changes = next ? changesOf(known, next) : null;
          personId = known.id;
        } else verdict = 'new';
      }
      tally.counts[verdict] += 1;
      verdicts.push([
        importId,
        no,
        verdict,
        reason,
        result.fix?.kind ?? null,
        personId,
        changes ? JSON.stringify(changes) : null,
        result.blanks,
        otherName,
      ]);
    }
    await chunks.take(() =>
      bulk.copyIn(
        'import_verdict',
        ['import_id', 'row_no', 'verdict', 'reason', 'fix', 'person_id', 'changes', 'blanks', 'other_name'],
        [verdicts],
      ),
    );
    verdictsWritten += verdicts.length;
    if (!(await at(after))) return undefined;
  }
  if (verdictsWritten > WORTH_COUNTING) await bulk.exec('ANALYZE import_verdict');
  await refusals.keep(bulk, importId);
  tally.counts.consent_no = refusals.numbers;
  tally.counts.consent_both = refusals.both;
  if (settings.list.trim() !== '')
    // all of the list but those of the file who are on it: so few rows of a file are counted without asking of each member
    tally.counts.missing =
      (
        await bulk.query<{ n: number }>(
          `SELECT (SELECT count(*) FROM list_member m WHERE m.list_id = list.id)
             - (SELECT count(*) FROM list_member m WHERE m.list_id = list.id
                AND m.person_id IN (SELECT person_id FROM import_verdict WHERE import_id = $1 AND person_id IS NOT NULL)) AS n
           FROM list WHERE list.name = $2`,
          [importId, settings.list.trim()],
        )
      ).rows.at(0)?.n ?? 0;
  return tally.counts;
}

interface Seen {
  rows: OfFile<Prepared & { row: number }>;
  /** Own reference → who had it first in this file. */
  bearers: Map<string, { row: number; person: Prepared }>;
}

/** The row that was about the same person first, or undefined when this is the first; and a stranger with the same own reference. */
function firstRow(
  seen: Seen,
  row: PreparedRow,
  settings: Joining,
  no: number,
  known: number | undefined,
): { first?: { row: number; by: string }; conflict?: Prepared } {
  const { person } = row;
  const before = seen.rows.find(person, no, known);
  if (before !== undefined) return { first: { row: before.row, by: person.number === null ? 'name' : 'number' } };
  seen.rows.add({ ...person, row: no }, known);
  if (person.reference === null) return {};
  const bearer = seen.bearers.get(person.reference);
  if (!bearer) {
    seen.bearers.set(person.reference, { row: no, person });
    return {};
  }
  if (strangers(bearer.person, person) && settings.reference_conflict !== 'same_person') return { conflict: bearer.person };
  return { first: { row: bearer.row, by: 'own reference' } };
}

/** What the planner knows of the tables is made anew after a file of more rows than this. */
export const WORTH_COUNTING = 2000;

/** Counts by kind while the rows go by. */
class Tally {
  readonly counts: ImportCounts = {
    new: 0,
    changed: 0,
    unchanged: 0,
    twice: 0,
    rejected: 0,
    set_aside: 0,
    waiting: 0,
    fixes: [],
    reasons: [],
    blanks: [],
    opted_out: 0,
    consent_no: 0,
    consent_both: 0,
    reference_conflicts: 0,
    conflict_examples: [],
    other_names: 0,
    other_name_examples: [],
    fixed_lines: 0,
    ambiguous_days: 0,
    dependants: 0,
    second_contacts: 0,
    missing: 0,
    stops: [],
  };

  /** Of each column the first. */
  stops(found: readonly Stop[]): void {
    for (const stop of found) if (!this.counts.stops.some((each) => each.column === stop.column)) this.counts.stops.push(stop);
  }

  read(result: RowRead): void {
    const { fix } = result;
    if (fix) {
      let known = this.counts.fixes.find((each) => each.kind === fix.kind);
      if (!known) {
        known = {
          kind: fix.kind,
          words: REPAIR_WORDS[fix.kind],
          count: 0,
          applied: 0,
          safe: SAFE_FIXES.includes(fix.kind),
          fixable: SAFE_FIXES.includes(fix.kind) || OFFERED_FIXES.includes(fix.kind as FixKind),
          before: fix.before,
          after: fix.after,
        };
        this.counts.fixes.push(known);
      }
      known.count += 1;
      if (result.ok) known.applied += 1;
    }
    for (const blank of result.blanks) {
      const [what, example = ''] = blank.split(/: (.*)/s);
      const known = this.counts.blanks.find((each) => each.what === what);
      if (known) known.count += 1;
      else this.counts.blanks.push({ what, count: 1, example });
    }
  }

  rejected(reason: string, example: string): void {
    if (reason.startsWith('waits for your fix')) {
      this.counts.waiting += 1;
      return;
    }
    const known = this.counts.reasons.find((each) => each.reason === reason);
    if (known) known.count += 1;
    else this.counts.reasons.push({ reason, count: 1, example });
  }

  conflict(person: Prepared, row: number, stranger: Pick<Prepared, 'given_name' | 'family_name' | 'number'>): void {
    this.counts.reference_conflicts += 1;
    if (this.counts.conflict_examples.length >= 5) return;
    const show = (of: typeof stranger) =>
      `${`${of.given_name} ${of.family_name}`.trim()}, ${of.number ? showPhone(of.number) : ''}`;
    this.counts.conflict_examples.push({ reference: person.reference ?? '', row, file: show(person), here: show(stranger) });
  }

  otherName(row: number, file: Called, here: Called): void {
    this.counts.other_names += 1;
    const { other_name_examples: examples } = this.counts;
    if (examples.length < 3) examples.push({ row, file: calledName(file), here: calledName(here) });
  }

  person(row: PreparedRow, optedOut: boolean): void {
    if (optedOut) this.counts.opted_out += 1;
    if (row.person.number_kind === 'fixed') this.counts.fixed_lines += 1;
    if (row.dependant) this.counts.dependants += 1;
    if (row.second) this.counts.second_contacts += 1;
  }
}
