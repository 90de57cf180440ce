import { Type } from 'typebox';
import type { Endpoint } from '../endpoint';

type Nothing = ReturnType<typeof Type.Object>;
/** Of whoever has no account: an address to go on to, or a page. */
type Open<P extends string, G extends 'address' | 'page'> = Endpoint<P, Nothing, Nothing, ReturnType<typeof Type.Unknown>, G>;

const follow: Open<'/l/:token', 'address'> = {
  method: 'get',
  path: '/l/:token',
  role: 'anyone',
  says: "A recipient's personal link: remembers the first click and goes on to the address",
  // only wrong ones: behind one address of a mobile network there may be thousands of recipients
  limits: [{ most: 60, seconds: 600, by: 'origin', refusedOnly: true }],
  answer: Type.Unknown(),
  gives: 'address',
  live: [],
  changes: [],
};

type OptOutEndpoint = Open<'/o/:token', 'page'>;
const optOut: Omit<OptOutEndpoint, 'method' | 'says'> = {
  path: '/o/:token',
  role: 'anyone',
  limits: [{ most: 60, seconds: 600, by: 'origin', refusedOnly: true }],
  answer: Type.Unknown(),
  gives: 'page',
  live: [],
  changes: [],
};
const askOptOut: OptOutEndpoint = {
  ...optOut,
  method: 'get',
  says: "The page of a recipient's opt-out link: opening it changes nothing",
};
const pressOptOut: OptOutEndpoint = {
  ...optOut,
  method: 'post',
  says: 'The press on that page: the number is never texted again, by any sender, for any purpose',
};

const endMarketing: Open<'/o/:token/marketing', 'page'> = {
  ...optOut,
  path: '/o/:token/marketing',
  method: 'post',
  says: 'Another press on it: whoever has the number gets notices still, and no marketing',
};
const takeBack: Open<'/o/:token/back', 'page'> = {
  ...optOut,
  path: '/o/:token/back',
  method: 'post',
  says: 'Takes back what was said by this link, as far as nothing else was said since',
};

/** Opened by whoever tries the public address. */
const tried: Open<'/try/:token', 'page'> = {
  ...optOut,
  path: '/try/:token',
  method: 'get',
  says: 'Says that this address leads here, to whoever tries it, and remembers that it did',
};

/** Links that recipients follow. */
export const links = { follow, askOptOut, pressOptOut, endMarketing, takeBack, tried };
