import { Type, type Static } from 'typebox';
import { TARGET_PATTERN } from '../people/targets';

const FixKind = Type.Union([
  Type.Literal('scientific'),
  Type.Literal('trailing_zero'),
  Type.Literal('letters'),
  Type.Literal('two_numbers'),
  Type.Literal('extension'),
  Type.Literal('footnote'),
  Type.Literal('lost_plus'),
  Type.Literal('lost_zero'),
  Type.Literal('digits_lost'),
  Type.Literal('date'),
]);

/** The import bench's settings, as one document. Rows are counted from 0, as the file has them. */
export const ImportSettings = Type.Object(
  {
    /** Row of the headings, or -1 when there is none. */
    heading_row: Type.Integer({ minimum: -1, maximum: 1000 }),
    first_row: Type.Integer({ minimum: 0, maximum: 1_048_576 }),
    /** Last row that is read; null = to the end. */
    last_row: Type.Union([Type.Null(), Type.Integer({ minimum: 0, maximum: 1_048_576 })]),
    match: Type.Array(Type.String({ maxLength: 60, pattern: TARGET_PATTERN }), { maxItems: 200 }),
    /** Fields to be made on the spot, by target. */
    new_fields: Type.Record(
      Type.String({ maxLength: 60 }),
      Type.Object(
        {
          label: Type.String({ minLength: 1, maxLength: 60 }),
          type: Type.Union([
            Type.Literal('text'),
            Type.Literal('number'),
            Type.Literal('date'),
            Type.Literal('choice'),
            Type.Literal('yes_no'),
          ]),
        },
        { additionalProperties: false },
      ),
    ),
    country: Type.String({ pattern: '^[A-Z]{2}$' }),
    day_first: Type.Boolean(),
    /** The day the file was read: nobody is born after it. */
    today: Type.Optional(Type.String({ pattern: '^\\d{4}-\\d{2}-\\d{2}$' })),
    /** What a birth year of two digits means that fits both centuries; left out until someone says. */
    born_century: Type.Optional(Type.Union([Type.Literal('19'), Type.Literal('20')])),
    /** Kinds applied to every row. */
    fixes: Type.Array(FixKind),
    /** Rows that get a fix though its kind is not applied to all. */
    fixed_rows: Type.Array(Type.Integer({ minimum: 0 }), { maxItems: 5000 }),
    two_numbers: Type.Union([Type.Literal('first'), Type.Literal('last')]),
    already: Type.Union([Type.Literal('fill_blanks'), Type.Literal('overwrite'), Type.Literal('skip')]),
    /** Rows whose own reference is somebody's whose name and number are others: one person, or another; left out until someone says. */
    reference_conflict: Type.Optional(Type.Union([Type.Literal('same_person'), Type.Literal('other_person')])),
    /** Columns about consent or stopping of which someone said that they are not about being texted. */
    not_about_texts: Type.Optional(Type.Array(Type.Integer({ minimum: 0, maximum: 199 }), { maxItems: 200 })),
    /** Columns in which only a cell that says stop counts, as a no; they come in as they are matched. */
    stop_columns: Type.Optional(Type.Array(Type.Integer({ minimum: 0, maximum: 199 }), { maxItems: 200 })),
    /** Someone here, or earlier in the file, has the number under another name: the same person, or another who shares it. */
    shared_number: Type.Union([Type.Literal('one_person'), Type.Literal('by_name')]),
    landlines: Type.Union([Type.Literal('keep'), Type.Literal('leave_out')]),
    list: Type.String({ maxLength: 100 }),
    /** People who are on that list and not in this file. */
    missing: Type.Union([Type.Literal('keep'), Type.Literal('take_off')]),
    tags: Type.Array(Type.String({ minLength: 1, maxLength: 60 }), { maxItems: 20 }),
    consent_purpose: Type.Union([Type.Literal('service'), Type.Literal('marketing')]),
    /** Consent stated for everyone in the file who does not say otherwise in a column of their own. */
    consent_all: Type.Union([
      Type.Null(),
      Type.Object(
        {
          how: Type.String({ minLength: 1, maxLength: 100 }),
          evidence: Type.String({ maxLength: 300 }),
          wording: Type.String({ maxLength: 500 }),
        },
        { additionalProperties: false },
      ),
    ]),
  },
  { additionalProperties: false },
);
export type ImportSettings = Static<typeof ImportSettings>;

export interface ImportCounts {
  new: number;
  changed: number;
  unchanged: number;
  twice: number;
  rejected: number;
  /** Left out by choice: landlines. */
  set_aside: number;
  /** Of the rejected, those that wait for a fix to be applied. */
  waiting: number;
  /** By kind of fix: applied, offered, and an example. */
  fixes: {
    kind: string;
    words: string;
    count: number;
    /** How many of them are applied. */
    applied: number;
    safe: boolean;
    fixable: boolean;
    before: string;
    after: string | null;
  }[];
  /** Reasons that nothing fixes. */
  reasons: { reason: string; count: number; example: string }[];
  /** Cells that come in empty because they could not be read as what their column is. */
  blanks: { what: string; count: number; example: string }[];
  opted_out: number;
  /** Numbers to which some row says no, also one that does not come in. */
  consent_no: number;
  /** Of them, those to which another row says yes. */
  consent_both: number;
  /** Rows whose own reference belongs to someone with another name and another number, and the first of them side by side. */
  reference_conflicts: number;
  conflict_examples: { reference: string; row: number; file: string; here: string }[];
  fixed_lines: number;
  /** Dates that read two ways. */
  ambiguous_days: number;
  dependants: number;
  second_contacts: number;
  /** On the chosen list and not in this file. */
  missing: number;
  /** The first cell like "STOP" of each column that is matched to something else; what it means is asked. */
  stops: { column: number; row: number; cell: string }[];
}

export type Verdict = 'new' | 'changed' | 'unchanged' | 'twice' | 'rejected' | 'set_aside';

/** One value that a row would change. */
export interface Change {
  field: string;
  before: string;
  after: string;
}

/** A cell of a column about texting, and what it would mean either way. */
export interface TextingExample {
  who: string;
  cell: string;
  if_grants: 'may be texted' | 'will not be texted' | 'says nothing' | 'cannot be read';
  if_refuses: 'may be texted' | 'will not be texted' | 'says nothing' | 'cannot be read';
  /** When only what says stop counts. */
  if_stops: 'will not be texted' | 'says nothing';
}

/** What only a person can say about a file on the bench. */
export interface BenchQuestions {
  texting: readonly {
    column: number;
    heading: string;
    says: 'grants' | 'refuses' | 'unclear';
    /** Null while it is open; nothing comes in before. */
    answer: 'consent' | 'refusal' | 'stops' | 'not' | null;
    examples: readonly TextingExample[];
  }[];
  /** Columns that hold numbers, the likeliest first; empty when there is only one. */
  phones: readonly { column: number; heading: string; why: string; chosen: boolean }[];
}

/** How the bytes of a text file are read. */
export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

/** How a file is read, where the first look may have been wrong. */
export const SourceChoice = Type.Object(
  {
    sheet: Type.Optional(Type.String({ maxLength: 200 })),
    encoding: Type.Optional(
      Type.Union([Type.Literal('utf-8'), Type.Literal('utf-16le'), Type.Literal('utf-16be'), Type.Literal('windows-1252')]),
    ),
    delimiter: Type.Optional(Type.Union([Type.Literal(','), Type.Literal(';'), Type.Literal('\t'), Type.Literal('|')])),
  },
  { additionalProperties: false },
);
export type SourceChoice = Static<typeof SourceChoice>;

export interface SheetName {
  name: string;
  hidden: boolean;
}

/** What an undone import left as it is, and why. */
export interface Kept {
  texted: number;
  changed: number;
  /** The first of them, to be looked at. */
  people: { id: number; why: 'texted since' | 'changed since' }[];
}

/** What is known of a file beside its rows. */
export interface ImportFacts {
  headings: string[];
  format?: 'delimited' | 'xlsx' | 'ods' | 'vcard';
  encoding?: Encoding;
  delimiter?: string;
  /** The delimiter, where somebody has chosen it. */
  chosen_delimiter?: SourceChoice['delimiter'];
  sheets?: SheetName[];
  sheet?: string;
  notes: string[];
  /** The last row there is, 0-based. */
  last?: number;
  list_id?: number;
  list_made?: boolean;
  failure?: string;
  /** Pasted text instead of a file. */
  pasted?: boolean;
  kept?: Kept;
  /** Rows that were said to come in, and rows that did. */
  differs?: { said: number; wrote: number };
}

export type ImportState = 'reading' | 'open' | 'writing' | 'done' | 'failed' | 'given_up' | 'undoing' | 'undone' | 'once';

/** One import, from its file to what became of it. */
export interface StagedImport {
  id: number;
  file_name: string;
  state: ImportState;
  facts: ImportFacts;
  settings: ImportSettings;
  counts: ImportCounts;
  row_count: number;
  /** The row that writing has come to. */
  written: number;
  /** Row the dry run has come to; 0 when it is not running. */
  at_row: number;
  /** Of the bench; what is decided is what the counts of this version say. */
  version: number;
  checked_version: number;
  created_at: string;
  decided_at: string | null;
  done_at: string | null;
  undone_at: string | null;
}
