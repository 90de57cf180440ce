/**
 * A number that can be texted: E.164 (ITU-T E.164: a plus, at most 15 digits, the first of them not nought), written one way. Made here
 * and by `readPhone` alone; every table that something is texted from holds nothing else.
 */
export type TextNumber = string & { readonly kind: 'number' };

/** Whoever a text comes from, as it came: a number, a short code or a name. Only a number is ever texted. */
export type Address = string;

const E164 = /^\+[1-9]\d{6,14}$/;

export function isNumber(address: string): address is TextNumber {
  return E164.test(address);
}
