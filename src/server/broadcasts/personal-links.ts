import { customAlphabet } from 'nanoid';
import { LINK_TOKEN, type DummyLink } from '../../core/plan/draft/links';

/** 31 characters without look-alikes, all in the plain alphabet: 12 of them are 59.4 bits. */
const newLinkToken = customAlphabet('23456789abcdefghjkmnpqrstuvwxyz', LINK_TOKEN);

/** The words with a link of their own in the place of each dummy, as long as that; each is told. */
export function withOwnLinks(words: string, links: readonly DummyLink[], made: (token: string, link: DummyLink) => void): string {
  let body = words;
  for (const link of links) {
    // the words of another language may do without it
    if (!body.includes(link.dummy)) continue;
    const token = newLinkToken();
    made(token, link);
    body = body.replaceAll(link.dummy, link.dummy.slice(0, -LINK_TOKEN) + token);
  }
  return body;
}
