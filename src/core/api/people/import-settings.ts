import { Type, type Static } from 'typebox';
import { TARGET_PATTERN } from '../../people/targets';
import { LocalDate } from '../../plan/draft/wall-schemas';
import { Nullable, OneOf, Shape } from '../shapes';

const SharedNumber = OneOf('one_person', 'by_name');

const FixKind = OneOf(
  'scientific',
  'trailing_zero',
  'letters',
  'two_numbers',
  'extension',
  'footnote',
  'lost_plus',
  'lost_zero',
  'digits_lost',
  'date',
);

/** The import bench's settings, as one document. Rows are counted from 0, as the file has them. */
export const ImportSettings = Shape({
  /** Row of the headings, or -1 when there is none. */
  heading_row: Type.Integer({ minimum: -1, maximum: 1000 }),
  first_row: Type.Integer({ minimum: 0, maximum: 1_048_576 }),
  /** Last row that is read; null = to the end. */
  last_row: Nullable(Type.Integer({ minimum: 0, maximum: 1_048_576 })),
  match: Type.Array(Type.String({ maxLength: 60, pattern: TARGET_PATTERN }), { maxItems: 200 }),
  /** Fields to be made on the spot, by target. */
  new_fields: Type.Record(
    Type.String({ maxLength: 60 }),
    Shape({
      label: Type.String({ minLength: 1, maxLength: 60 }),
      type: OneOf('text', 'number', 'date', 'choice', 'yes_no'),
    }),
  ),
  country: Type.String({ pattern: '^[A-Z]{2}$' }),
  day_first: Type.Boolean(),
  /** The day the file was read: nobody is born after it. */
  today: Type.Optional(LocalDate),
  /** What a birth year of two digits means that fits both centuries; left out until someone says. */
  born_century: Type.Optional(OneOf('19', '20')),
  /** Kinds applied to every row. */
  fixes: Type.Array(FixKind),
  /** Rows that get a fix though its kind is not applied to all. */
  fixed_rows: Type.Array(Type.Integer({ minimum: 0 }), { maxItems: 5000 }),
  two_numbers: OneOf('first', 'last'),
  already: OneOf('fill_blanks', 'overwrite', 'skip'),
  /** Rows whose own reference is somebody's whose name and number are others: one person, or another; left out until someone says. */
  reference_conflict: Type.Optional(OneOf('same_person', 'other_person')),
  /** Columns about consent or stopping of which someone said that they are not about being texted. */
  not_about_texts: Type.Optional(Type.Array(Type.Integer({ minimum: 0, maximum: 199 }), { maxItems: 200 })),
  /** Columns in which only a cell that says stop counts, as a no; they come in as they are matched. */
  stop_columns: Type.Optional(Type.Array(Type.Integer({ minimum: 0, maximum: 199 }), { maxItems: 200 })),
  /** Someone here, or earlier in the file, has the number under another name: the same person, or another who shares it. */
  shared_number: SharedNumber,
  /** Rows of which somebody has said it one by one. */
  shared_rows: Type.Optional(Type.Record(Type.String({ pattern: '^[0-9]{1,7}$' }), SharedNumber, { maxProperties: 5000 })),
  landlines: OneOf('keep', 'leave_out'),
  list: Type.String({ maxLength: 100 }),
  /** People who are on that list and not in this file. */
  missing: OneOf('keep', 'take_off'),
  tags: Type.Array(Type.String({ minLength: 1, maxLength: 60 }), { maxItems: 20 }),
  consent_purpose: OneOf('service', 'marketing'),
  /** Consent stated for everyone in the file who does not say otherwise in a column of their own. */
  consent_all: Nullable(
    Shape({
      how: Type.String({ minLength: 1, maxLength: 100 }),
      evidence: Type.String({ maxLength: 300 }),
      wording: Type.String({ maxLength: 500 }),
    }),
  ),
});
export type ImportSettings = Static<typeof ImportSettings>;

/** What is said of a row whose number somebody has under another name: of this row, else of all. */
export const sharedOf = (
  settings: Pick<ImportSettings, 'shared_number' | 'shared_rows'>,
  row: number,
): ImportSettings['shared_number'] => settings.shared_rows?.[String(row)] ?? settings.shared_number;
