import { open } from 'node:fs/promises';
import type { SourceChoice } from '../../core/api/people/imports';
import { openDelimited } from './delimited';
import { openOds } from './ods';
import { UnreadableFile, type OpenTable } from './table';
import { openVcard } from './vcard';
import { openXlsx } from './xlsx';
import { Zip } from './zip';

/**
 * Opens a file of people, whatever its name says: told by its first bytes. CSV and TSV, XLSX, ODS, vCard; everything
 * else is refused with a sentence that says what to do.
 */
export async function openTable(path: string, options: SourceChoice = {}): Promise<OpenTable> {
  const file = await open(path, 'r');
  const head = Buffer.alloc(512);
  const { bytesRead } = await file.read(head, 0, head.length, 0);
  await file.close();
  if (bytesRead === 0) throw new UnreadableFile('The file is empty.');
  const magic = head.subarray(0, bytesRead).toString('latin1');
  if (magic.startsWith('PK')) {
    const zip = await Zip.open(path);
    const names = zip.names();
    zip.close();
    if (names.includes('content.xml')) return openOds(path, options.sheet);
    if (names.some((name) => name.endsWith('workbook.bin')))
      throw new UnreadableFile('This is a binary workbook (.xlsb). Save it as .xlsx or CSV and choose that file.');
    return openXlsx(path, options.sheet);
  }
  if (magic.startsWith('%PDF'))
    throw new UnreadableFile('This is a PDF, not a table. Save the sheet as CSV and choose that file.');
  if (magic.startsWith('\u00d0\u00cf\u0011\u00e0'))
    throw new UnreadableFile(
      'This is an old or a locked workbook. Save it as .xlsx without a password, or as CSV, and choose that file.',
    );
  const text = head.subarray(0, bytesRead).toString(/^(\xff\xfe|.\0)/.test(magic) ? 'utf16le' : 'utf8');
  if (/^\ufeff?\s*BEGIN:VCARD/i.test(text)) return openVcard(path, options.encoding);
  return openDelimited(path, options);
}
