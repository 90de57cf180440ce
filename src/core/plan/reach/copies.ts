import { measure } from '../../text/measure';
import { dummyCode } from '../words/codes';
import { NO_RATE, rateOf, type Rate } from '../money/destinations';
import type { PlanTexts } from '../words/texts';

/** A number of the desk that gets a copy of every broadcast. */
export interface DeskNumber {
  name: string;
  number: string;
}

/** A copy as it goes: the words of the first recipient, with what stands for a code in the place of theirs. */
export interface Copy extends DeskNumber {
  /** Whose words they are, where that is somebody in the address book. */
  of: number | null;
  /** With a dummy in the place of a personal link; each copy gets links of its own, which count for nobody. */
  text: string;
  extended: boolean;
  parts: number;
  /** Millionths. */
  cost: number;
  /** When the first text goes, ms. */
  due: number;
}

/**
 * Copies of a plan's texts for the desk. Whoever of the desk gets it as a recipient gets no copy beside it; without a price there is
 * none, since what it costs could not be said.
 */
export function copiesOf(desk: readonly DeskNumber[], texts: PlanTexts, first: number | null, rates: readonly Rate[]): Copy[] {
  if (desk.length === 0 || texts.count === 0 || first === null) return [];
  const wanted = new Map(desk.map((each) => [each.number, each]));
  for (const { number } of texts.people) if (number !== null) wanted.delete(number);
  const [model] = texts.people;
  const code = texts.code(0);
  const words = texts.write(0);
  const text = code === null ? words : words.replaceAll(code, dummyCode(code));
  const { alphabet, parts } = measure(text);
  return [...wanted.values()].flatMap((each) => {
    const rate = rateOf(rates)(each.number);
    return rate === NO_RATE
      ? []
      : [
          {
            ...each,
            of: model.known ? model.id : null,
            text,
            extended: alphabet === 'ucs2',
            parts,
            cost: rates[rate].price_micro * parts,
            due: first,
          },
        ];
  });
}
