/** What can be done about texts that did not arrive, besides looking at them. */
export type NextAct = 'again' | 'later' | 'twice' | 'off_list' | 'mark';

export interface Advice {
  /** What it means, and what helps, in words for somebody at a desk. */
  says: string;
  acts: readonly NextAct[];
}

/** Words by which people are marked who need another number. */
export const NEEDS_NUMBER = 'needs a new number';

/**
 * Reasons as the carrier and the engine give them (`failureWords`, the carrier's own words for its status, and what the line
 * finds), each with what it means and the sensible next acts. Common practice, not from a published source.
 */
const ADVICE: readonly (readonly [RegExp, Advice])[] = [
  [/carrier never got it/, { says: 'It never reached the carrier, so nobody has it.', acts: ['again'] }],
  [
    /number does not exist|does not accept this number/,
    {
      says: 'The number leads nowhere. Broadcasts leave it out from now on; ask for a new one.',
      acts: ['mark', 'off_list'],
    },
  ],
  [
    /phone does not take texts/,
    { says: 'A fixed line, or a phone that blocks texts. Call them, or ask for a mobile number.', acts: ['mark', 'off_list'] },
  ],
  [
    /off too long/,
    { says: 'The phone was off until the text was of no more use. Another hour may reach them.', acts: ['again', 'later'] },
  ],
  [
    /busy|again|trouble|throttl|queue|full/,
    { says: 'The carrier could not take it then. Later it may.', acts: ['again', 'later'] },
  ],
  [
    /sender|source/,
    { says: 'The carrier does not take texts from this sender to there. Another sender may be taken.', acts: ['again'] },
  ],
  [
    /refused by the carrier|rejected/,
    {
      says: 'The carrier’s filter did not let it through. Other words, without links of elsewhere, or another sender may help.',
      acts: ['again'],
    },
  ],
  [
    /deleted by the carrier|could not deliver/,
    { says: 'The carrier gave up without saying more. Once more later is worth a try.', acts: ['again'] },
  ],
  [
    /line broke|never said|without an id/,
    { says: 'It was handed over, and the answer was lost: they may have it. Sent again, it may arrive twice.', acts: ['twice'] },
  ],
  [
    /of no more use|too late|missed its time|no allowed hour|nobody decided/,
    { says: 'Its time was over before it could go.', acts: ['again'] },
  ],
  [/canceled/, { says: 'Somebody of the desk canceled it before it went.', acts: ['again'] }],
];

const SETTLED: Advice = { says: '', acts: [] };

/** What a reason means and what to do about it; nothing for what is settled, such as opting out. */
export function adviceFor(state: string, reason: string): Advice {
  if (state === 'uncertain') return { says: 'They may have it. Sent again, it may arrive twice.', acts: ['twice'] };
  const found = ADVICE.find(([pattern]) => pattern.test(reason.toLowerCase()));
  if (found) return found[1];
  return state === 'not_delivered' || state === 'expired'
    ? { says: 'The carrier’s own words. Once more later is worth a try.', acts: ['again'] }
    : SETTLED;
}
