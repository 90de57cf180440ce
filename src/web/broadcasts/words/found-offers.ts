import { fold } from '../../../core/text/fold';
import type { Offer } from './editor-state';

/** How well it is named by what was typed: 0 a whole word of it, 1 the beginning of a word, 2 inside of one; undefined where not at all. */
function rankOf(name: string, typed: string): number | undefined {
  const at: number[] = [];
  for (let found = name.indexOf(typed); found >= 0; found = name.indexOf(typed, found + 1)) at.push(found);
  if (at.length === 0) return undefined;
  const begins = at.filter((start) => start === 0 || !/[\p{L}\p{N}]/u.test(name[start - 1]));
  if (begins.length === 0) return 2;
  return begins.some((start) => !/[\p{L}\p{N}]/u.test(name[start + typed.length] ?? ' ')) ? 0 : 1;
}

/** The slug of a field, link or code as one may know it from a text: `given_name`, with spaces too. */
const slugOf = ({ insert }: Offer): string => (/^\{([a-z][\w.]*)/.exec(insert)?.[1] ?? '').replace(/[_.]/g, ' ');

/**
 * What is offered for what was typed after `{`: a whole word of its name first, then the beginning of one, then inside; in the order given
 * among alike. Case, accents, hyphens and underscores do not matter. Everything where nothing was typed.
 */
export function offersFound(offers: readonly Offer[], typed: string): readonly Offer[] {
  const plain = (text: string) =>
    fold(text)
      .replace(/[-_’']/g, ' ')
      .replace(/\s+/g, ' ')
      .trim();
  const wanted = plain(typed);
  if (wanted === '') return offers;
  return offers
    .flatMap((offer, at) => {
      const ranks = [plain(offer.label), slugOf(offer)].flatMap((name) => rankOf(name, wanted) ?? []);
      return ranks.length > 0 ? [{ offer, rank: Math.min(...ranks), at }] : [];
    })
    .sort((a, b) => a.rank - b.rank || a.at - b.at)
    .map(({ offer }) => offer);
}
