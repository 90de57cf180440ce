// The registry's SMPP implementation, used in tests only as a second opinion; it ships no types.
declare module 'smpp' {
  interface Decoded {
    command: string;
    sequence_number: number;
    toBuffer(): Buffer;
    [field: string]: unknown;
  }
  const smpp: { PDU: new (from: Buffer | string, fields?: Record<string, unknown>) => Decoded };
  export default smpp;
}
