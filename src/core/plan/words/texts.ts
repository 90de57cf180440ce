import type { PlanPerson } from '../reach/person';

/** The texts of a plan, in the order of going: columns, one entry a recipient. The words are written again when asked for. */
export interface PlanTexts {
  count: number;
  people: PlanPerson[];
  parts: Uint8Array;
  /** Parts of the text for opting out that follows; zeros where there is none. */
  after: Uint8Array;
  units: Uint16Array;
  extended: Uint8Array;
  fell: Uint8Array;
  /** Of the text itself, without what follows it. */
  cost: Float64Array;
  afterCost: Float64Array;
  /** Index of a line of the rate card. */
  rate: Uint16Array;
  due: Float64Array;
  language: Uint8Array;
  languages: string[];
  /** Which hours hold for each: index of a rule. */
  group: Uint32Array;
  /** The exact words, with a dummy in the place of a personal link. */
  write(i: number): string;
  /** The words of the text that follows it; empty where none does. */
  writeAfter(i: number): string;
  /** The one-time code in it; null where there is none, or only what stands for one. */
  code(i: number): string | null;
}
