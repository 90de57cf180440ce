import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deflateRawSync } from 'node:zlib';
import type { SourceChoice } from '../../core/api/people/imports';
import { openAsked } from './open-asked';
import { openTable } from './open-table';
import type { FileReading, ReadingAsked } from './reading-thread';
import type { OpenTable } from './table';
import { streamXlsx } from './write-xlsx';

export interface ReadWhole extends Omit<OpenTable, 'rows'> {
  rows: string[][];
  /** Row numbers as the file counts them, 0-based. */
  numbers: number[];
}

/** Everything of a file's bytes, as openTable reads them from disk. */
export async function readWhole(bytes: Uint8Array | string, options: SourceChoice = {}): Promise<ReadWhole> {
  const folder = mkdtempSync(join(tmpdir(), 'bell-file-'));
  try {
    const path = join(folder, 'file');
    writeFileSync(path, bytes);
    const table = await openTable(path, options);
    const rows: string[][] = [];
    const numbers: number[] = [];
    for await (const batch of table.rows())
      for (const row of batch) {
        rows.push(row.cells);
        numbers.push(row.no);
      }
    return { ...table, rows, numbers };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The one sentence a file is refused with, or `read`. */
export async function refusal(bytes: Uint8Array | string): Promise<string> {
  try {
    await readWhole(bytes);
    return 'read';
  } catch (error) {
    return (error as Error).message;
  }
}

/** A workbook as our own writer makes it. */
export async function xlsxOf(rows: string[][]): Promise<Buffer> {
  const pieces: Uint8Array[] = [];
  async function* pages() {
    yield rows;
  }
  for await (const piece of streamXlsx('People', pages())) pieces.push(piece);
  return Buffer.concat(pieces);
}

/** A zip file with these parts, as small as it can be. */
export function zipOf(parts: Record<string, string | Buffer>): Buffer {
  const locals: Buffer[] = [];
  const central: Buffer[] = [];
  let offset = 0;
  for (const [name, content] of Object.entries(parts)) {
    const raw = Buffer.isBuffer(content) ? content : Buffer.from(content);
    const data = deflateRawSync(raw);
    const local = Buffer.alloc(30);
    local.writeUInt32LE(0x04034b50, 0);
    local.writeUInt16LE(20, 4);
    local.writeUInt16LE(8, 8);
    local.writeUInt32LE(data.length, 18);
    local.writeUInt32LE(raw.length, 22);
    local.writeUInt16LE(Buffer.byteLength(name), 26);
    const entry = Buffer.alloc(46);
    entry.writeUInt32LE(0x02014b50, 0);
    entry.writeUInt16LE(20, 6);
    entry.writeUInt16LE(8, 10);
    entry.writeUInt32LE(data.length, 20);
    entry.writeUInt32LE(raw.length, 24);
    entry.writeUInt16LE(Buffer.byteLength(name), 28);
    entry.writeUInt32LE(offset, 42);
    locals.push(local, Buffer.from(name), data);
    central.push(entry, Buffer.from(name));
    offset += 30 + Buffer.byteLength(name) + data.length;
  }
  const directory = Buffer.concat(central);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(Object.keys(parts).length, 8);
  end.writeUInt16LE(Object.keys(parts).length, 10);
  end.writeUInt32LE(directory.length, 12);
  end.writeUInt32LE(offset, 16);
  return Buffer.concat([...locals, directory, end]);
}

/** A workbook of one sheet, whose inside is given. */
export const workbook = (sheet: string, more: Record<string, string> = {}) =>
  zipOf({
    '_rels/.rels': '<Relationships><Relationship Id="r1" Type="t/officeDocument" Target="xl/workbook.xml"/></Relationships>',
    'xl/workbook.xml': '<workbook xmlns:r="r"><sheets><sheet name="One" r:id="r1"/></sheets></workbook>',
    'xl/_rels/workbook.xml.rels':
      '<Relationships><Relationship Id="r1" Type="t/worksheet" Target="worksheets/s.xml"/></Relationships>',
    'xl/worksheets/s.xml': `<worksheet><sheetData>${sheet}</sheetData></worksheet>`,
    ...more,
  });
/** An OpenDocument sheet, whose rows are given. */
export const spreadsheet = (rows: string) =>
  zipOf({
    mimetype: 'application/vnd.oasis.opendocument.spreadsheet',
    'content.xml': `<office:document-content xmlns:office="o" xmlns:table="t" xmlns:text="x"><office:body><office:spreadsheet><table:table table:name="One">${rows}</table:table></office:spreadsheet></office:body></office:document-content>`,
  });

/** A reading in this thread: for tests that are not about reading, since a thread from source takes half a second to start. */
export function readHere(asked: ReadingAsked): FileReading {
  const opened = openAsked(asked);
  opened.catch(() => undefined);
  return {
    facts: async () => {
      const { format, encoding, delimiter, sheets, sheet } = await opened;
      return { format, encoding, delimiter, sheets, sheet, notes: [] };
    },
    async *rows(notes) {
      const table = await opened;
      yield* table.rows();
      notes.push(...table.notes);
    },
    end: async () => undefined,
  };
}
