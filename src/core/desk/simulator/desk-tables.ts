import type { Run } from '../../runs/life';
import type { SimJob } from './sim-jobs';

/** How late a run may start, how long before its date it is planned, and how long it can be taken back, ms. */
export const LATE = 20_000;
export const LEAD = 6000;
export const TAKEBACK = 2000;

/** Between deciding to plan a date and planning it, ms: a few transactions of a slow database. */
export const SLACK = 6000;

export interface SimBroadcast {
  id: number;
  kind: 'now' | 'at' | 'repeat' | 'import' | 'current';
  state: 'draft' | 'scheduled' | 'set_aside' | 'canceled' | 'ended';
  version: number;
  /** What it says, as a number: written anew it is another. */
  words: number;
  /** Of `at`, `current` and the first of `repeat`. */
  at: number;
  every: number;
  times: number;
  nextDate: string | null;
  nextAt: number | null;
  planAt: number | null;
  goesOn: boolean;
  /** Imports that it has had its run of, or that were done when it was agreed to. */
  importsHad: ReadonlySet<number>;
  /** The press that it is scheduled by. */
  series: string;
  writtenAt: number;
}

export interface SimDeskRun extends Run {
  id: number;
  broadcast: number;
  pressId: string;
  digest: string;
  words: number;
  atOnce: boolean;
  stored: number;
  instead: number | null;
  date: string | null;
  import: number | null;
  people: string[];
  /** When it was begun. */
  at: number;
  cleaned: boolean;
  /** The press that it came of. */
  series: string;
  startedAt: number | null;
  /** When the run of a date was to go. */
  dateAt: number | null;
}

/** Who would get it, and what it says, at one moment. */
export interface SimPlan {
  digest: string;
  words: number;
  people: string[];
}

export interface SimInbound {
  id: string;
  number: string;
  kind: 'stop' | 'maybe' | 'reply';
  at: number;
  applied: boolean;
  done: boolean;
}

/** What a beginning came to. */
export type SimBegun =
  { how: 'begun'; run: number; job: SimJob } | { how: 'already'; run: number } | { how: 'refused'; why: string };

/** Somebody was quicker: nothing of it happens. */
export class Overtaken extends Error {}

/** A text from a phone, which the carrier brings until it is acknowledged. */
export interface FromPhone {
  id: string;
  number: string;
  kind: SimInbound['kind'];
  acknowledgedAt: number | null;
}

/** A press, and what whoever pressed was told at last. */
export interface Pressed {
  id: string;
  broadcast: number;
  version: number;
  digest: string;
  words: number;
  came: { run: number | null } | 'called off' | 'undone' | 'refused' | undefined;
}
