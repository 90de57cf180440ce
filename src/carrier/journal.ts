import { closeSync, existsSync, mkdirSync, openSync, readFileSync, truncateSync, writeSync } from 'node:fs';
import { dirname } from 'node:path';

/**
 * What the message center has taken on, line by line, written before it answers: after a kill it knows
 * everything it promised. One JSON object a line; `pdu` is the submit_sm exactly as it came, in hexadecimal.
 */
export type JournalLine =
  | { what: 'submit'; id: string; at: string; number: string; pdu: string }
  /** What became of it at the phone, and when its receipt was taken; both may stand again after a restart, alike. */
  | { what: 'final'; id: string; at: string; state: string }
  | { what: 'receipt'; id: string; at?: string }
  | { what: 'inbound'; id: string; at: string; number: string; to: string; text: string }
  | { what: 'inbound_taken'; id: string };

export class Journal {
  private readonly file: number;

  constructor(readonly path: string) {
    mkdirSync(dirname(path), { recursive: true });
    dropTornLine(path);
    this.file = openSync(path, 'a');
  }

  write(line: JournalLine): void {
    writeSync(this.file, `${JSON.stringify(line)}\n`);
  }

  close(): void {
    closeSync(this.file);
  }
}

/** A kill in mid-write may leave half a line at the end; it was never answered, so it is dropped. */
function dropTornLine(path: string): void {
  if (!existsSync(path)) return;
  const content = readFileSync(path);
  const end = content.lastIndexOf(0x0a) + 1;
  if (end < content.length) truncateSync(path, end);
}

export function readJournal(path: string): JournalLine[] {
  if (!existsSync(path)) return [];
  const text = readFileSync(path, 'utf8');
  return text
    .slice(0, text.lastIndexOf('\n') + 1)
    .split('\n')
    .filter((line) => line !== '')
    .map((line) => JSON.parse(line) as JournalLine);
}
