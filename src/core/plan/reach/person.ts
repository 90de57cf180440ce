import type { AtOnce } from '../../text/at-once';
import type { Candidate } from './reach';

/** Someone a text may be written about, as its words need them. */
export interface PlanDependant {
  id: number;
  given_name: string;
  family_name: string;
  fields: Record<string, string>;
}

/** Someone of an audience, with what the plan needs to know of them: only the fields that the words use. */
export interface PlanPerson extends Candidate {
  /** In the address book; else the id is a negative one of this plan only. */
  known: boolean;
  given_name: string;
  family_name: string;
  reference: string | null;
  language: string | null;
  zone: string | null;
  zone_guessed: boolean;
  /** Do-not-disturb hours of their own, `HH:MM-HH:MM`. */
  quiet: string | null;
  fields: Record<string, string>;
  /** Those the audience matched, or all of theirs; without those about whom they must not be written to. */
  dependants: PlanDependant[];
  /** It is known that the person was chosen for them. */
  thereFor?: boolean;
  /** Their name is that of a file used once, not the address book's. */
  byFile?: boolean;
  /** What the address book calls who has the number, where the file calls them otherwise. */
  hereAs?: string;
  /** Words that a file used once brings along. */
  ready: string;
}

/** What the plan needs to know of the workspace. */
export interface PlanWorkspace {
  name: string;
  zone: string;
  currency: string;
  languages: string[];
  quiet_from: string;
  quiet_to: string;
  /** The workspace's custom: 4:30 PM or 16:30. */
  hours: '12' | '24';
  public_address: string;
  /** Whom service notices go to: whoever has not withdrawn, or who has agreed only. */
  notices: 'unless_withdrawn' | 'granted';
  /** The practice carrier stands in: nothing leaves. */
  practice: boolean;
  /** What the carrier takes of texts that phones show at once. */
  at_once: AtOnce;
  opt_out_wording: Record<string, string>;
  /** Before an opt-out link. */
  opt_out_link_wording: Record<string, string>;
}

export interface PlanSender {
  id: number;
  name: string;
  kind: 'long' | 'short' | 'name';
  address: string;
  parts_per_second: number;
  /** Replies are read for so many days after a text; null where that has no end. */
  reply_days: number | null;
}
