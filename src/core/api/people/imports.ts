import { Type, type Static } from 'typebox';
import type { PreparedRow } from '../../people/prepare';
import { endpoint, fileEndpoint } from '../endpoint';
import { ImportSettings } from './import-settings';
import { Count, Id, Instant, Nullable, OneOf, Shape } from '../shapes';

const Text = Type.String();

export const ImportCounts = Shape({
  new: Count,
  changed: Count,
  unchanged: Count,
  twice: Count,
  rejected: Count,
  /** Left out by choice: landlines. */
  set_aside: Count,
  /** Of the rejected, those that wait for a fix to be applied. */
  waiting: Count,
  /** By kind of fix: how many, how many of them are applied, and an example. */
  fixes: Type.Array(
    Shape({
      kind: Text,
      words: Text,
      count: Count,
      applied: Count,
      safe: Type.Boolean(),
      fixable: Type.Boolean(),
      before: Text,
      after: Nullable(Text),
    }),
  ),
  /** Reasons that nothing fixes. */
  reasons: Type.Array(Shape({ reason: Text, count: Count, example: Text })),
  /** Cells that come in empty because they could not be read as what their column is. */
  blanks: Type.Array(Shape({ what: Text, count: Count, example: Text })),
  opted_out: Count,
  /** Numbers to which some row says no, also one that does not come in. */
  consent_no: Count,
  /** Of them, those to which another row says yes. */
  consent_both: Count,
  /** Rows whose own reference belongs to someone with another name and another number, and the first of them side by side. */
  reference_conflicts: Count,
  conflict_examples: Type.Array(Shape({ reference: Text, row: Count, file: Text, here: Text })),
  /** Rows whose number somebody has under another name, here or earlier in the file, and the first of them side by side. */
  other_names: Count,
  other_name_examples: Type.Array(Shape({ row: Count, file: Text, here: Text })),
  fixed_lines: Count,
  /** Dates that read two ways. */
  ambiguous_days: Count,
  dependants: Count,
  second_contacts: Count,
  /** On the chosen list and not in this file. */
  missing: Count,
  /** The first cell like "STOP" of each column that is matched to something else; what it means is asked. */
  stops: Type.Array(Shape({ column: Count, row: Count, cell: Text })),
});
export type ImportCounts = Static<typeof ImportCounts>;

export const Verdict = OneOf('new', 'changed', 'unchanged', 'twice', 'rejected', 'set_aside');
export type Verdict = Static<typeof Verdict>;

/** One value that a row would change. */
export const Change = Shape({ field: Text, before: Text, after: Text });
export type Change = Static<typeof Change>;

/** What a cell about texting would mean. */
const Meaning = OneOf('may be texted', 'will not be texted', 'says nothing', 'cannot be read');
/** A cell of a column about texting, and what it would mean either way. */
export const TextingExample = Shape({
  who: Text,
  cell: Text,
  if_grants: Meaning,
  if_refuses: Meaning,
  /** When only what says stop counts. */
  if_stops: OneOf('will not be texted', 'says nothing'),
});
export type TextingExample = Static<typeof TextingExample>;

/** What only a person can say about a file on the bench. */
export const BenchQuestions = Shape({
  texting: Type.Array(
    Shape({
      column: Count,
      heading: Text,
      says: OneOf('grants', 'refuses', 'unclear'),
      /** Null while it is open; nothing comes in before. */
      answer: Nullable(OneOf('consent', 'refusal', 'stops', 'not')),
      examples: Type.Array(TextingExample),
    }),
  ),
  /** Columns that hold numbers, the likeliest first; empty when there is only one. */
  phones: Type.Array(Shape({ column: Count, heading: Text, why: Text, chosen: Type.Boolean() })),
});
export type BenchQuestions = Static<typeof BenchQuestions>;

/** How the bytes of a text file are read. */
export const Encoding = OneOf('utf-8', 'utf-16le', 'utf-16be', 'windows-1252');
export type Encoding = Static<typeof Encoding>;
const Delimiter = OneOf(',', ';', '\t', '|');

/** How a file is read, where the first look may have been wrong. */
export const SourceChoice = Shape({
  sheet: Type.Optional(Type.String({ maxLength: 200 })),
  encoding: Type.Optional(Encoding),
  delimiter: Type.Optional(Delimiter),
});
export type SourceChoice = Static<typeof SourceChoice>;

export const SheetName = Shape({ name: Text, hidden: Type.Boolean() });
export type SheetName = Static<typeof SheetName>;

/** What an undone import left as it is, and why. */
export const Kept = Shape({
  texted: Count,
  changed: Count,
  /** The first of them, to be looked at. */
  people: Type.Array(Shape({ id: Id, why: OneOf('texted since', 'changed since') })),
});
export type Kept = Static<typeof Kept>;

/** What is known of a file beside its rows. */
export const ImportFacts = Shape({
  headings: Type.Array(Text),
  format: Type.Optional(OneOf('delimited', 'xlsx', 'ods', 'vcard')),
  encoding: Type.Optional(Encoding),
  delimiter: Type.Optional(Text),
  /** The delimiter, where somebody has chosen it. */
  chosen_delimiter: Type.Optional(Delimiter),
  sheets: Type.Optional(Type.Array(SheetName)),
  sheet: Type.Optional(Text),
  notes: Type.Array(Text),
  /** The last row there is, 0-based. */
  last: Type.Optional(Type.Integer()),
  list_id: Type.Optional(Id),
  list_made: Type.Optional(Type.Boolean()),
  /** Lists that a column of the file names: by how they are folded, and whether the import has made them. */
  lists: Type.Optional(Type.Array(Shape({ id: Id, key: Text, made: Type.Boolean() }))),
  failure: Type.Optional(Text),
  /** Pasted text instead of a file. */
  pasted: Type.Optional(Type.Boolean()),
  kept: Type.Optional(Kept),
  /** Rows that were said to come in, and rows that did. */
  differs: Type.Optional(Shape({ said: Count, wrote: Count })),
});
export type ImportFacts = Static<typeof ImportFacts>;

/** For so many days an import can be undone, and its rows are kept. */
export const UNDO_DAYS = 30;

export const ImportState = OneOf('reading', 'open', 'writing', 'done', 'failed', 'given_up', 'undoing', 'undone', 'once');
export type ImportState = Static<typeof ImportState>;

const STAGED = {
  id: Id,
  file_name: Text,
  state: ImportState,
  facts: ImportFacts,
  settings: ImportSettings,
  counts: ImportCounts,
  row_count: Count,
  /** The row that writing has come to. */
  written_row: Type.Integer(),
  /** Row the dry run has come to; 0 when it is not running. */
  at_row: Type.Integer(),
  /** Of the bench; what is decided is what the counts of this version say. */
  version: Type.Integer(),
  checked_version: Type.Integer(),
  created_at: Instant,
  decided_at: Nullable(Instant),
  done_at: Nullable(Instant),
  undone_at: Nullable(Instant),
};
/** One import, from its file to what became of it. */
export const StagedImport = Shape(STAGED);
export type StagedImport = Static<typeof StagedImport>;
/** An import as its bench shows it: with what only a person can say. Nothing is counted or set while it is being read. */
export const Staged = Shape({
  ...STAGED,
  settings: Type.Union([ImportSettings, Type.Unsafe<ImportSettings>(Shape({}))]),
  counts: Type.Union([ImportCounts, Type.Unsafe<ImportCounts>(Type.Object({}))]),
  questions: BenchQuestions,
});
export type Staged = Static<typeof Staged>;

/** What a row becomes. */
const StoredRow = Type.Unsafe<PreparedRow>(Type.Object({}));
export const BenchRow = Shape({
  row_no: Count,
  cells: Type.Array(Text),
  /** As the file has them, where somebody has corrected one of them. */
  was: Nullable(Type.Array(Text)),
  verdict: Verdict,
  reason: Nullable(Text),
  fix: Nullable(Text),
  changes: Nullable(Type.Array(Change)),
  blanks: Type.Array(Text),
  /** Who has its number under another name. */
  other_name: Nullable(Text),
  person_id: Nullable(Id),
  /** The number once it is fixed. */
  after: Nullable(Text),
  stored: Nullable(StoredRow),
});
export type BenchRow = Static<typeof BenchRow>;

/** An import in the history. */
export const PastImport = Shape({
  id: Id,
  file_name: Text,
  state: ImportState,
  counts: Type.Unsafe<Partial<ImportCounts>>(Type.Object({})),
  row_count: Count,
  list: Nullable(Text),
  failure: Nullable(Text),
  created_at: Instant,
  decided_at: Nullable(Instant),
  done_at: Nullable(Instant),
  undone_at: Nullable(Instant),
  by: Nullable(Text),
  can_undo: Nullable(Type.Boolean()),
});
export type PastImport = Static<typeof PastImport>;

export const LARGEST_FILE = 200 * 1024 * 1024;
const Begun = Shape({ id: Id });

export const imports = {
  list: endpoint({
    method: 'get',
    path: '/api/imports',
    role: 'look',
    says: 'The history of imports',
    answer: Shape({ imports: Type.Array(PastImport) }),
    live: ['import'],
  }),
  file: endpoint({
    method: 'post',
    path: '/api/imports/file',
    role: 'write',
    says: 'Takes a CSV, TSV, XLSX, ODS or vCard file (its bytes as the body, its name as ?name=) onto the bench',
    upload: LARGEST_FILE,
    query: Type.Object({ name: Type.Optional(Type.String({ maxLength: 1000 })) }),
    answer: Begun,
    changes: ['import'],
  }),
  text: endpoint({
    method: 'post',
    path: '/api/imports/text',
    role: 'write',
    says: 'Takes pasted text onto the bench',
    upload: 10 * 1024 * 1024,
    answer: Begun,
    changes: ['import'],
  }),
  get: endpoint({
    method: 'get',
    path: '/api/imports/:id',
    role: 'look',
    says: 'One import: facts, settings, counts',
    answer: Staged,
    live: ['import', 'people'],
  }),
  rows: endpoint({
    method: 'get',
    path: '/api/imports/:id/rows',
    role: 'look',
    says: 'Rows of an import with what would happen, by ?verdict=, ?fix=, ?waiting=1, ?other_name=1 or ?blank=, paged by ?after=',
    query: Type.Object({
      verdict: Type.Optional(Type.String({ maxLength: 20 })),
      fix: Type.Optional(Type.String({ maxLength: 20 })),
      waiting: Type.Optional(Type.Literal('1')),
      other_name: Type.Optional(Type.Literal('1')),
      blank: Type.Optional(Type.String({ maxLength: 200 })),
      after: Type.Optional(Type.Integer({ minimum: -1, maximum: 2_000_000_000 })),
    }),
    answer: Shape({ rows: Type.Array(BenchRow), next: Nullable(Type.Integer()) }),
    live: ['import'],
  }),
  settings: endpoint({
    method: 'put',
    path: '/api/imports/:id/settings',
    role: 'write',
    says: 'Changes the bench: headings, rows, match, fixes, policies; answers the new counts, or where the dry run is',
    body: ImportSettings,
    answer: Staged,
  }),
  correct: endpoint({
    method: 'put',
    path: '/api/imports/:id/cell',
    role: 'write',
    says: 'Corrects one cell of a file on the bench; what the file has is kept, and can be put back by sending it. Answers the new counts, or where the dry run is',
    body: Shape({
      row: Type.Integer({ minimum: 0, maximum: 2_000_000_000 }),
      column: Type.Integer({ minimum: 0, maximum: 199 }),
      text: Type.String({ maxLength: 2000 }),
    }),
    answer: Staged,
  }),
  source: endpoint({
    method: 'put',
    path: '/api/imports/:id/source',
    role: 'write',
    says: 'Reads the file again: another sheet of it, in another encoding, or split at another delimiter',
    body: SourceChoice,
    answer: Staged,
  }),
  decide: endpoint({
    method: 'post',
    path: '/api/imports/:id/decide',
    role: 'write',
    says: 'Brings the people in as the counts of this version say: all or nothing, rolled forward after a restart',
    body: Shape({ version: Type.Integer({ minimum: 1 }) }),
    answer: Begun,
    changes: ['import', 'people'],
  }),
  useOnce: endpoint({
    method: 'post',
    path: '/api/imports/:id/use-once',
    role: 'write',
    says: 'Uses the file for one broadcast only: nobody enters the address book; for the draft that is named, or for a new one, which it answers',
    body: Shape({ broadcast_id: Type.Optional(Id) }),
    answer: Shape({ broadcast_id: Id }),
    changes: ['import', 'broadcasts'],
  }),
  undo: endpoint({
    method: 'post',
    path: '/api/imports/:id/undo',
    role: 'write',
    says: 'Takes a finished import back; says what it leaves because it was texted or changed since',
    body: Type.Object({}),
    answer: Begun,
    changes: ['import'],
  }),
  giveUp: endpoint({
    method: 'delete',
    path: '/api/imports/:id',
    role: 'write',
    says: 'Gives up a file that is on the bench',
    changes: ['import'],
  }),
  kept: endpoint({
    method: 'get',
    path: '/api/imports/:id/kept',
    role: 'look',
    says: 'People that an undone import left as they are, with why',
    answer: Shape({ people: Type.Array(Shape({ id: Id, name: Text, number: Nullable(Text), why: Text })) }),
  }),
  starterCsv: fileEndpoint({ path: '/api/imports/starter.csv', role: 'look', says: 'A file to start from, as CSV' }),
  starterXlsx: fileEndpoint({ path: '/api/imports/starter.xlsx', role: 'look', says: 'A file to start from, as a workbook' }),
  rejectsCsv: fileEndpoint({
    path: '/api/imports/:id/rejects.csv',
    role: 'look',
    says: 'Rows that do not come in, with the reason, to correct and bring back; CSV',
  }),
  rejectsXlsx: fileEndpoint({ path: '/api/imports/:id/rejects.xlsx', role: 'look', says: 'The same as a workbook' }),
};
