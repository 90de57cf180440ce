// Two dev-only part counters of the registry without (usable) types of their own.
declare module 'split-sms' {
  export function split(text: string): { characterSet: string; parts: unknown[] };
}
declare module 'sms-length' {
  export function count(text: string): { encoding: string; length: number; messages: number };
}
