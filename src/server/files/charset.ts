export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

/** Byte order mark, NUL pattern, strict UTF-8, else Windows-1252; general detectors guess worse. */
export function guessEncoding(bytes: Uint8Array): Encoding {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const head = bytes.subarray(0, 2000);
  let even = 0;
  let odd = 0;
  head.forEach((byte, i) => {
    if (byte !== 0) return;
    if (i % 2 === 0) even += 1;
    else odd += 1;
  });
  if (odd > head.length / 4 && even === 0) return 'utf-16le';
  if (even > head.length / 4 && odd === 0) return 'utf-16be';
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

export function decode(bytes: Uint8Array, encoding: Encoding): string {
  return new TextDecoder(encoding).decode(bytes).replace(/^\ufeff/, '');
}
