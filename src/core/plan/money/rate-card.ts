import type { RateBody } from '../../api/setup';

/** A card to begin with: made-up prices of a part, in millionths. Country codes by ITU-T E.164. */
export const STARTER_CARD: RateBody[] = [
  { prefix: '+1', destination: 'United States, Canada', price_micro: 7500 },
  { prefix: '+33', destination: 'France', price_micro: 48_000 },
  { prefix: '+34', destination: 'Spain', price_micro: 42_000 },
  { prefix: '+39', destination: 'Italy', price_micro: 52_000 },
  { prefix: '+44', destination: 'United Kingdom', price_micro: 31_000 },
  { prefix: '+49', destination: 'Germany', price_micro: 61_000 },
  { prefix: '+52', destination: 'Mexico', price_micro: 21_000 },
];

/** The dearest part that is believed. */
const MOST = 10_000_000;

/**
 * A price list of three columns, prefix, destination and price of a part; `,`, `;` or tab between them, with or without headings.
 * `wrong` names the lines that are none, by their number from 1; they are left out.
 */
export function readRates(text: string): { rates: RateBody[]; wrong: string[] } {
  const rates: RateBody[] = [];
  const wrong: string[] = [];
  text
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\r|\n/)
    .forEach((line, at) => {
      if (line.trim() === '') return;
      const delimiter = [';', '\t', ','].find((each) => line.includes(each)) ?? ',';
      const [prefix = '', destination = '', price = ''] = line
        .split(delimiter)
        .map((cell) => cell.trim().replace(/^"(.*)"$/, '$1'));
      const digits = prefix.replace(/^(\+|00)/, '');
      const amount = /^\d{1,2}([.,]\d{1,6})?$/.test(price) ? Math.round(Number(price.replace(',', '.')) * 1e6) : undefined;
      if (
        /^[1-9]\d{0,6}$/.test(digits) &&
        destination !== '' &&
        destination.length <= 60 &&
        amount !== undefined &&
        amount <= MOST
      )
        rates.push({ prefix: `+${digits}`, destination, price_micro: amount });
      // a first line without a digit in it is headings
      else if (at > 0 || /\d/.test(line)) wrong.push(`Line ${at + 1} is no price: “${line.slice(0, 60)}”.`);
    });
  return { rates, wrong };
}
