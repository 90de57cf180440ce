import { iso } from '../../../core/clock';
import { dummiesOf, dummyOptOut, type DummyLink } from '../../../core/plan/draft/links';
import type { Draft } from '../../../core/plan/draft/draft';
import type { Param, Tx } from '../../db/db';
import { withOwnLinks } from '../personal-links';

/** Links of a test lead somewhere for so long, ms. */
const LAST = 30 * 86_400_000;

/** What stands for links in the proofs of a draft, those that lead somewhere. @param address this server's, as its links begin */
export function dummiesIn(draft: Draft, address: string): DummyLink[] {
  const host = address.replace(/^https?:\/\//, '').replace(/\/$/, '');
  return [...dummiesOf(draft, `${host}/l/`).filter((link) => link.address !== ''), dummyOptOut(host)];
}

/** The words of a test to a number with links that lead where they will lead, and are marked as those of a test. */
export async function linkedForTest(
  tx: Tx,
  words: string,
  links: readonly DummyLink[],
  to: { number: string; language: string },
  now: number,
): Promise<string> {
  const made: Param[][] = [];
  const body = withOwnLinks(words, links, (token, { address, name, optOut }) =>
    made.push([token, to.number, address, name, optOut === true, to.language, iso(now + LAST), true]),
  );
  if (made.length > 0)
    await tx.copyIn('link', ['token', 'number', 'address', 'name', 'opt_out', 'language', 'expires_at', 'test'], [made]);
  return body;
}
