/** One naming of someone by a source: the id alone where nothing more is said, since a million of them are named by one list. */
export type Naming = number | Named;

export interface Named {
  /** A person of the address book, or undefined for a bare number. */
  id?: number;
  number?: string;
  dependants?: number[];
  /** What a file used once says of them. */
  row?: {
    given_name: string;
    family_name: string;
    fields: Record<string, string>;
    language: string | null;
    ready: string;
    said: 'granted' | 'withdrawn' | null;
  };
}
