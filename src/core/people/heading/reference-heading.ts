import { headingWords } from './words';

/** Headings of own references, in the trade's words; common practice, English, French and Spanish. */
const TRADE =
  /^((own )?(reference|ref|(reference|ref) (no|number|code))|(membership|member|pass|customer|client|account|student|pupil|patient|subscriber|donor|employee|staff|payroll|household|family|boat|berth|booking)( ?(no|nr|number|id|code|ref|reference|#))|account|(external|crm|contact|person|unique) id|id( (no|number))?|(numero|no|n|code) (d'|de )?(adherent|membre|client|abonne|dossier|compte)|reference client|identifiant|(numero|codigo|no) de (socio|miembro|cliente|cuenta|abonado)|referencia|identificador|matricule|matricula|no (membre|client|adherent)|socio (no|numero))$/;

/** True when a heading says in the trade's words that the column is an own reference. A bare "No" is a running number. */
export function saysReference(heading: string): boolean {
  return TRADE.test(headingWords(heading));
}

/** True for 1, 2, 3 … in order (from any start): a running number of this file, and nobody's reference. */
export function isRunningNumber(cells: readonly string[]): boolean {
  const filled = cells.map((cell) => cell.trim()).filter((cell) => cell !== '');
  if (filled.length === 0 || filled.some((cell) => !/^\d{1,7}(\.0)?$/.test(cell))) return false;
  const numbers = filled.map(Number);
  if (numbers.length === 1) return numbers[0] <= 1;
  const steps = numbers.slice(1).filter((n, i) => n - numbers[i] === 1).length;
  // a few lines taken out of the middle leave it a running number
  return steps >= (numbers.length - 1) * 0.8 && numbers.every((n, i) => i === 0 || n > numbers[i - 1]);
}
