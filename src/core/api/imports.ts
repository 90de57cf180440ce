import { Type, type Static } from 'typebox';

/** The import bench's settings, as one document. */
export const ImportSettings = Type.Object(
  {
    /** Row of the headings (0-based in the file), or -1 when there is none. */
    heading_row: Type.Integer({ minimum: -1, maximum: 1000 }),
    match: Type.Array(
      Type.String({
        maxLength: 60,
        pattern:
          '^(skip|number|calling_code|given_name|family_name|full_name|reference|language|zone|consent|tags|field:[a-z][a-z0-9_]{0,40})$',
      }),
      { maxItems: 200 },
    ),
    /** Labels of fields to be made on the spot, by slug. */
    new_fields: Type.Record(Type.String(), Type.String({ maxLength: 60 })),
    country: Type.String({ pattern: '^[A-Z]{2}$' }),
    fixes: Type.Array(
      Type.Union([
        Type.Literal('scientific'),
        Type.Literal('trailing_zero'),
        Type.Literal('letters'),
        Type.Literal('two_numbers'),
        Type.Literal('extension'),
        Type.Literal('digits_lost'),
        Type.Literal('date'),
      ]),
    ),
    already: Type.Union([Type.Literal('fill_blanks'), Type.Literal('overwrite'), Type.Literal('skip')]),
    list: Type.String({ maxLength: 100 }),
    consent_purpose: Type.Union([Type.Literal('service'), Type.Literal('marketing')]),
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
  /** Of the rejected, those that wait for a fix to be applied. */
  waiting: number;
  /** By kind of fix: applied, offered, and an example. */
  fixes: {
    kind: string;
    words: string;
    count: number;
    applied: boolean;
    safe: boolean;
    fixable: boolean;
    before: string;
    after: string | null;
  }[];
  /** Reasons that nothing fixes. */
  reasons: { reason: string; count: number; example: string }[];
  opted_out: number;
  consent_no: number;
}

export type Verdict = 'new' | 'changed' | 'unchanged' | 'twice' | 'rejected';
