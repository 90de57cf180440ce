/** What an entry of the record is about, where that can be opened. */
export type RecordOf =
  { kind: 'person' | 'run' | 'broadcast' | 'dependant' | 'import'; id: number } | { kind: 'setup'; part: string };

const OF_PEOPLE =
  /\b(?:added|changed|answered|opted) a person\b|^made one person of two$|^wrote down consent|^opted a person out$/;
const OF_BROADCASTS = /^put a broadcast back|^(?:took|canceled|skipped).*broadcast/;
const SETUP: readonly (readonly [RegExp, string])[] = [
  [/\bfields?\b/, 'fields'],
  [/\bsender\b/, 'senders'],
  [/\bprice/, 'prices'],
  [/\bbalance\b/, 'balance'],
  [/\bcarrier\b/, 'carrier'],
  [/\bmail server\b/, 'mail'],
  [/\bhours of the desk\b/, 'desk'],
  [/\binvited\b|\brole\b|\baccount\b|\bnumber of the desk\b|\bcopies\b|\breset a password\b/, 'team'],
  [/\bchanged the settings\b|\bpublic address\b/, 'workspace'],
  [/\bown number\b|\btheir password\b|\bcalendar\b|\bsigned out\b/, 'account'],
];

/**
 * What an entry of the record is about: by what it keeps of it (`run 12`, an id, ids in its details) and by what was done. Undefined where
 * there is nothing to open, or not any more.
 */
export function recordOf(entry: {
  act: string;
  subject: string;
  detail: Readonly<Record<string, unknown>>;
}): RecordOf | undefined {
  const { act, subject, detail } = entry;
  const run = /^run (\d+)$/.exec(subject);
  if (run) return { kind: 'run', id: Number(run[1]) };
  if (typeof detail.run === 'number') return { kind: 'run', id: detail.run };
  if (typeof detail.import === 'number') return { kind: 'import', id: detail.import };
  const id = /^\d{1,15}$/.test(subject) ? Number(subject) : undefined;
  if (id !== undefined) {
    // who was erased and what was deleted cannot be opened
    if (/^(?:erased|deleted)/.test(act)) return undefined;
    if (OF_PEOPLE.test(act)) return { kind: 'person', id };
    if (/\b(?:dependant|contact)\b/.test(act)) return { kind: 'dependant', id };
    if (OF_BROADCASTS.test(act)) return { kind: 'broadcast', id };
  }
  const part = SETUP.find(([pattern]) => pattern.test(act))?.[1];
  return part === undefined ? undefined : { kind: 'setup', part };
}
