import { readPhone } from './read';

/**
 * E.164 of the number a reply or a receipt comes from. Carriers write it with a plus, with `00`, international without
 * either (type of number 1, SMPP v3.4 §5.2.5), or national (type 2, or 0 for unknown); each must find its person and its entry
 * in the register. What cannot be read as a number stays as it came: a short code or a name.
 */
export function sourceNumber(address: string, typeOfNumber: number, country: string): string {
  const digits = address.replace(/[^\d+]/g, '');
  const international = digits.startsWith('+') ? digits : digits.startsWith('00') ? `+${digits.slice(2)}` : undefined;
  if (international !== undefined) return readable(international, country) ?? international;
  if (digits === '') return address;
  const asInternational = () => readable(`+${digits}`, country);
  const asNational = () => readable(digits, country);
  if (typeOfNumber === 2) return asNational() ?? asInternational() ?? address;
  if (typeOfNumber === 1) return asInternational() ?? `+${digits}`;
  return asInternational() ?? asNational() ?? address;
}

function readable(text: string, country: string): string | undefined {
  const read = readPhone(text, { country });
  return read.ok ? read.number : undefined;
}
