import { useQuery } from '@tanstack/react-query';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import type { Answer } from '../../../core/api/endpoint';
import type { Draft } from '../../../core/plan/draft/draft';
import { linksOf } from '../../../core/plan/draft/links';
import { isWebAddress } from '../../../core/plan/draft/web-address';
import { ask } from '../../api/client';
import { useSettled } from '../../pieces/small';

export type LinkState = Answer<typeof broadcasts.checkLinks>['links'][number];
/** What was found out holds so long, ms. */
const HOLDS = 60_000;

/** Whether the links of a draft answer, by address; asked a moment after they were typed, and by everyone who shows it at once. */
export function useLinkCheck(draft: Pick<Draft, 'link' | 'links'>): ReadonlyMap<string, LinkState> {
  const wanted = [...new Set(linksOf(draft).map(({ address }) => address))].filter(isWebAddress).sort();
  const addresses = useSettled(wanted.join(' '), 800);
  const { data } = useQuery({
    queryKey: ['links that answer', addresses],
    queryFn: () => ask(broadcasts.checkLinks, { body: { addresses: addresses.split(' ') } }),
    enabled: addresses !== '',
    staleTime: HOLDS,
    retry: false,
  });
  return new Map((data?.links ?? []).map((each) => [each.address, each]));
}

/** What is to be said of links before they go out: those that do not answer, and those of which it is not known. */
export function linkRemarks(
  draft: Pick<Draft, 'link' | 'links'>,
  states: ReadonlyMap<string, LinkState>,
): { name: string; says: string; sure: boolean }[] {
  return linksOf(draft).flatMap(({ name, address }) => {
    const state = states.get(address);
    if (!state || state.answers === 'yes') return [];
    return [
      state.answers === 'no'
        ? { name, sure: true, says: `The link “${name}” does not work: ${state.why}.` }
        : { name, sure: false, says: `Whether the link “${name}” works could not be checked: ${state.why}.` },
    ];
  });
}
