import type { Draft } from './draft';

/** A link of a broadcast: `{link name}` in its words. */
export type LinkSpec = NonNullable<Draft['links']>[number];

/** Characters of a personal token; 31^12 is more than 2^59. Every recipient's is as long as the dummy in whose place it comes. */
export const LINK_TOKEN = 12;
const DUMMIES = ['k7w2m4nq9cxy', 'k7w2m4nq9cxz', 'k7w2m4nq9cx2', 'k7w2m4nq9cx3', 'k7w2m4nq9cx4'];
export const MOST_LINKS = DUMMIES.length;

/** All links of a draft; drafts of before hold a single one apart. */
export function linksOf(draft: Pick<Draft, 'link' | 'links'>): LinkSpec[] {
  return [...(draft.link ? [draft.link] : []), ...(draft.links ?? [])].slice(0, MOST_LINKS);
}

/** A link with the address that stands for it in proofs: of the same length for everyone, another for each link. */
export interface DummyLink extends LinkSpec {
  dummy: string;
  /** The way to get no more texts. */
  optOut?: boolean;
}

const OPT_OUT_DUMMY = 'k7w2m4nq9cx5';

/** What stands for an opt-out link. @param host of this server's links */
export const dummyOptOut = (host: string): DummyLink => ({
  name: 'opt_out',
  address: '',
  dummy: `${host}/o/${OPT_OUT_DUMMY}`,
  optOut: true,
});

/** @param prefix address of this server's links, without the token */
export function dummiesOf(draft: Pick<Draft, 'link' | 'links'>, prefix: string): DummyLink[] {
  return linksOf(draft).map((link, i) => ({ ...link, dummy: `${prefix}${DUMMIES[i]}` }));
}
