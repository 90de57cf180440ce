import { useCallback, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { mayDo } from '../../../core/api/roles';
import { useAct, useGet, usePages } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { useAskedFor, useInAddress } from '../../pieces/address';
import { useNow, useSettled } from '../../pieces/small';
import { broadcastColumns } from './broadcast-columns';

const PAGE = 100;
const FILTERS = ['state', 'label'];

/** The table of broadcasts: what it is narrowed by, its rows so far, and beginning a new one. */
export function useBroadcasts() {
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const [typed, setTyped] = useState(params.get('search') ?? '');
  const search = useSettled(typed.trim(), 200);
  const [{ state = '', label = '' }, filter] = useInAddress(FILTERS, { replace: false });
  const labels = useGet(broadcasts.labels, {}, { keep: true }).data?.labels ?? [];
  const { work, busy, error } = useWork();
  const make = useAct(broadcasts.make);
  const list = usePages(
    broadcasts.list,
    (skip: number | undefined) => ({
      query: { search: search || undefined, state: state || undefined, label: label || undefined, skip },
    }),
    (last, all) => (last.broadcasts.length < PAGE ? undefined : all.length * PAGE),
  );
  const pages = list.data?.pages ?? [];
  const begin = useCallback(
    (copy?: number, short?: boolean) =>
      work(async () => {
        const { id } = await make({ body: { name: '', copy } });
        await navigate(short ? `/broadcasts/${id}/short` : `/broadcasts/${id}`);
      }),
    [work, make, navigate],
  );
  // asked for by a key, or by the palette
  useAskedFor('new', (what) => void begin(undefined, what === 'short'));
  const { zone, currency } = workspace;
  const mayWrite = mayDo(account.role, 'write');
  const columns = useMemo(
    () => broadcastColumns({ zone, currency, now, mayWrite, copy: (id) => void begin(id) }),
    [zone, currency, now, mayWrite, begin],
  );
  return {
    narrowed: { search, state, label },
    filter,
    typed,
    setTyped,
    labels,
    columns,
    rows: pages.flatMap((page) => page.broadcasts),
    total: pages[0]?.total,
    list,
    mayWrite,
    begin,
    busy,
    error,
  };
}
