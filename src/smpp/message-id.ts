/**
 * How a carrier writes the message ids in its receipts beside those in its answers (submit_sm_resp). Some answer in hexadecimal and write
 * receipts in decimal, or the other way round (common practice); SMPP v3.4 §5.2.23 has an id as an octet string that says nothing of it.
 */
export type ReceiptIds = 'same' | 'decimal' | 'hexadecimal';

/** An id out of an answer, as it is kept: where ids are numbers, without leading noughts and in small letters. */
export function answeredId(id: string, receipts: ReceiptIds): string {
  if (receipts === 'decimal' && /^[0-9a-f]+$/i.test(id)) return BigInt(`0x${id}`).toString(16);
  if (receipts === 'hexadecimal' && /^\d+$/.test(id)) return BigInt(id).toString(10);
  return id;
}

/** The id of a receipt's text as its answer had it; what is no number of that kind stays as it came. */
export function receiptedId(id: string, receipts: ReceiptIds): string {
  if (receipts === 'decimal' && /^\d+$/.test(id)) return BigInt(id).toString(16);
  if (receipts === 'hexadecimal' && /^[0-9a-f]+$/i.test(id)) return BigInt(`0x${id}`).toString(10);
  return id;
}
