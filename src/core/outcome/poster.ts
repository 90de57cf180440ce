import { foldKeyword } from './sign-up';

/** What is needed of a keyword to say what stands beside it. */
export interface Poster {
  word: string;
  address: string;
  purpose: 'service' | 'marketing';
  consent_wording: string;
  asks_first: boolean;
}

/** The line that calls to sign up: "Text FERRY to 72345". */
export function posterLine({ word, address }: Pick<Poster, 'word' | 'address'>): string {
  return `Text ${word.trim().toUpperCase()} to ${address}`;
}

/**
 * What must be said beside it: who writes and what they agree to, that it may cost, and how to get help and out (common practice of
 * carriers); for marketing that agreeing is no condition of buying (47 CFR 64.1200(f)(9)(i)(B)).
 */
export function besidePoster(poster: Poster, workspace: string): string[] {
  const own = poster.consent_wording.trim();
  return [
    own.toLowerCase().includes(workspace.toLowerCase()) ? own : `${workspace}: ${own}`,
    ...(poster.asks_first ? ['You are asked to answer YES first.'] : []),
    ...(poster.purpose === 'marketing' ? ['Agreeing is no condition of buying anything.'] : []),
    'Message and data rates may apply. Text HELP for help, STOP to get no more.',
  ];
}

/** What is missing in the words that answer: who it is, and how to stop; nobody who signed up should have to guess. */
export function missingIn(words: string, workspace: string): ('who' | 'stop')[] {
  if (words.trim() === '') return [];
  const folded = ` ${foldKeyword(words)} `;
  const first = foldKeyword(workspace).split(' ')[0];
  return [
    ...(first !== '' && !folded.includes(` ${first} `) ? (['who'] as const) : []),
    ...(!/ (?:stop|arret|alto) /.test(folded) ? (['stop'] as const) : []),
  ];
}
