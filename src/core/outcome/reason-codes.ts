/**
 * What the carrier calls a reason, for whoever asks it about one: the command_status of SMPP 3.4 §5.1.3 with which it refused, or the
 * state and error of its receipt (Appendix B; the errors are our practice carrier's). Other codes stand in the reason itself.
 */
const CODES: Readonly<Record<string, string>> = {
  'the carrier says the text is too long': 'status 0x01',
  'the carrier has trouble of its own': 'status 0x08 or 0x64',
  'the carrier does not accept this sender': 'status 0x0A',
  'the carrier does not accept this number': 'status 0x0B',
  'the carrier asks to slow down': 'status 0x14 or 0x58',
  'refused by the carrier': 'status 0x45, or a receipt REJECTD',
  'the phone was off too long': 'receipt EXPIRED',
  'deleted by the carrier': 'receipt DELETED',
  'number does not exist': 'receipt UNDELIV, error 001',
  'the phone does not take texts': 'receipt UNDELIV, error 013',
};

/** Empty where the carrier said nothing, or its code stands in the reason. */
export const codeOf = (reason: string): string => CODES[reason] ?? '';
