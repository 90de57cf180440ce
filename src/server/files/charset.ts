import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import type { Encoding } from './table';

/**
 * Encoding of a text file: byte order mark, a pattern of NULs, UTF-8 that reads without an error to its end, else
 * Windows-1252. The general detectors guess worse; the bench shows what was taken and lets it be changed.
 */
export async function guessEncoding(path: string): Promise<Encoding> {
  const file = await open(path, 'r');
  const head = Buffer.alloc(4096);
  const { bytesRead } = await file.read(head, 0, head.length, 0);
  await file.close();
  const start = head.subarray(0, bytesRead);
  if (start[0] === 0xef && start[1] === 0xbb && start[2] === 0xbf) return 'utf-8';
  if (start[0] === 0xff && start[1] === 0xfe) return 'utf-16le';
  if (start[0] === 0xfe && start[1] === 0xff) return 'utf-16be';
  // Latin text in UTF-16 without a mark has a NUL in every other place
  const nulls = [0, 0];
  for (let i = 0; i < start.length; i += 1) if (start[i] === 0) nulls[i % 2] += 1;
  const half = start.length / 2;
  if (half > 4 && nulls[1] > half * 0.6 && nulls[0] < half * 0.1) return 'utf-16le';
  if (half > 4 && nulls[0] > half * 0.6 && nulls[1] < half * 0.1) return 'utf-16be';
  const strict = new TextDecoder('utf-8', { fatal: true });
  try {
    for await (const chunk of createReadStream(path)) strict.decode(chunk as Buffer, { stream: true });
    strict.decode();
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

/** The file as text, piece by piece, with every line end as `\n` and without its byte order mark. */
export async function* textOf(path: string, encoding: Encoding): AsyncGenerator<string> {
  const decoder = new TextDecoder(encoding);
  let carry = '';
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 17 })) {
    let text = carry + decoder.decode(chunk as Buffer, { stream: true });
    // a carriage return at the end may be the first half of a line end
    carry = text.endsWith('\r') ? '\r' : '';
    if (carry) text = text.slice(0, -1);
    if (text !== '') yield text.includes('\r') ? text.replace(/\r\n?/g, '\n') : text;
  }
  const rest = carry + decoder.decode();
  if (rest !== '') yield rest.replace(/\r\n?/g, '\n');
}
