/** A person as a row of the people's table. */
export interface PersonRow {
  id: number;
  given_name: string;
  family_name: string;
  number: string | null;
  reference: string | null;
  language: string | null;
  zone: string | null;
  zone_guessed: boolean;
  born: string | null;
  number_kind: string | null;
  number_country: string | null;
  created_at: string;
  reach: string;
  /** Where this row stands in the order, for asking what comes after it. */
  key: string;
  fields: Record<string, string>;
  tags: string[];
  dependants: string[];
}
