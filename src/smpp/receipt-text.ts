import { MESSAGE_STATE, type MessageState } from './commands';

/** The delivery receipt's text, SMPP v3.4 Appendix B. */
export interface ReceiptText {
  id: string;
  state: MessageState;
  /** Carrier's own error code, three characters. */
  error: string;
  submitted: string;
  done: string;
  /** First 20 characters of the text. */
  text: string;
}

/** YYMMDDhhmm, as Appendix B has it. */
export function receiptDate(ms: number): string {
  return new Date(ms).toISOString().slice(2, 16).replace(/[-T:]/g, '');
}

export function writeReceipt(receipt: ReceiptText): string {
  const { id, state, error, submitted, done, text } = receipt;
  return `id:${id} sub:001 dlvrd:${state === 'DELIVRD' ? '001' : '000'} submit date:${submitted} done date:${done} stat:${state} err:${error} text:${text.slice(0, 20)}`;
}

/** Reads a receipt's text, field order and case as carriers vary them; undefined when it is none. */
export function readReceipt(text: string): Pick<ReceiptText, 'id' | 'state' | 'error'> | undefined {
  const id = /\bid:\s*([^\s]+)/i.exec(text)?.[1];
  const stat = /\bstat:\s*([A-Z]+)/i.exec(text)?.[1]?.toUpperCase();
  if (!id || !stat || !(stat in MESSAGE_STATE)) return undefined;
  return { id, state: stat as MessageState, error: /\berr:\s*([^\s]*)/i.exec(text)?.[1] ?? '' };
}

/** §5.2.28: the state's name by its number. */
export function stateName(number: number | undefined): MessageState | undefined {
  return (Object.keys(MESSAGE_STATE) as MessageState[]).find((name) => MESSAGE_STATE[name] === number);
}
