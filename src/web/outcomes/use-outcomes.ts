import { useState } from 'react';
import { outcomes } from '../../core/api/sending/outcomes';
import { wallClock } from '../../core/zones';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useInAddress } from '../pieces/address';
import { useNow, useSettled } from '../pieces/small';
import { outcomeColumns } from './outcome-columns';
import { percent } from './ShareFigure';
import { NARROWED_BY, queryOf } from './Which';

/** The runs that what is chosen in the address leaves, a page at a time, and which of them are picked to be compared. */
export function useOutcomes() {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const [narrowed, narrow, address] = useInAddress(NARROWED_BY);
  const [skip, setSkip] = useState(0);
  const [picked, setPicked] = useState<readonly number[]>([]);
  const wanted = JSON.stringify(queryOf(narrowed, wallClock(now, workspace.zone).date));
  const settled = useSettled(wanted, 250);
  const which = JSON.parse(settled) as ReturnType<typeof queryOf>;
  const answer = useGet(outcomes.list, { query: { ...which, skip } }, { keep: true });
  const rows = answer.data?.runs ?? [];
  const usual = answer.data?.usual;
  const columns = outcomeColumns({ rows, usual, picked, setPicked, zone: workspace.zone, currency: workspace.currency, now });
  const said = (['answer', 'click', 'opt out'] as const).flatMap((act) => {
    const share = usual?.[act === 'answer' ? 'answers' : act === 'click' ? 'clicked' : 'opted_out'] ?? null;
    return share === null ? [] : [`${percent(share)} ${act}`];
  });
  return {
    narrowed,
    /** Narrows by something else, from the first page on. */
    narrow(part: Parameters<typeof narrow>[0]) {
      setSkip(0);
      narrow(part);
    },
    address,
    which,
    answer,
    // while others are counted, what stands is of those before, and is not said to be of these
    total: answer.data && !answer.isPlaceholderData && settled === wanted ? answer.data.total : undefined,
    rows,
    usual,
    /** What is usual, in words. */
    said,
    columns,
    picked,
    skip,
    setSkip,
  };
}
