import ipaddr from 'ipaddr.js';

/** True for a complete address of a page (WHATWG URL): only then can a link lead anywhere. */
export function isWebAddress(text: string): boolean {
  return /^https?:\/\/\S+$/i.test(text) && URL.canParse(text) && new URL(text).hostname !== '';
}

/** Names that are resolved on one machine or in one house only (RFC 6761, RFC 6762, RFC 8375; `internal` is set apart by ICANN). */
const OF_A_HOUSE = /(^|\.)(localhost|local|internal|lan|home|home\.arpa|test|invalid)$/;

/**
 * An address by which only this machine, or this house, gets here: no phone opens it. Names of one machine, and addresses of private
 * networks (RFC 1918, RFC 4193, RFC 6890).
 */
export function opensOnlyHere(address: string): boolean {
  if (!isWebAddress(address)) return true;
  const host = new URL(address).hostname.toLowerCase().replace(/^\[|\]$/g, '');
  if (ipaddr.isValid(host)) return ipaddr.process(host).range() !== 'unicast';
  return !host.includes('.') || OF_A_HOUSE.test(host.replace(/\.$/, ''));
}

/** An address as links are made from it: scheme and host, without a path; undefined where there is more to it or it is none. */
export function originOf(typed: string): string | undefined {
  const text = typed.trim();
  const whole = /^https?:\/\//i.test(text) ? text : `https://${text}`;
  if (!isWebAddress(whole)) return undefined;
  const url = new URL(whole);
  return url.pathname === '/' && url.search === '' && url.hash === '' && url.username === '' ? url.origin : undefined;
}
