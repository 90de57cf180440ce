import { foundByWords } from '../../pieces/found-by-words';
import type { Offer } from './editor-state';

/** The slug of a field, link or code as one may know it from a text: `given_name`, with spaces too. */
const slugOf = ({ insert }: Offer): string => (/^\{([a-z][\w.]*)/.exec(insert)?.[1] ?? '').replace(/[_.]/g, ' ');

/** What is offered for what was typed after `{`. */
export const offersFound = (offers: readonly Offer[], typed: string): readonly Offer[] =>
  foundByWords(offers, (offer) => [offer.label, slugOf(offer)], typed);
