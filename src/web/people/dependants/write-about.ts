import { useNavigate } from 'react-router';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { dependants, type WhichDependants } from '../../../core/api/people/dependants';
import { ask, useAct } from '../../api/client';
import { useWork } from '../../api/work';
import type { Chosen } from '../../pieces/table/DataTable';

/** Begins a broadcast to the contacts of those who are chosen: these, or all of a filter but some. */
export function useWriteAbout(which: WhichDependants) {
  const navigate = useNavigate();
  const make = useAct(broadcasts.make);
  const { work, busy, error } = useWork();
  const write = (chosen: Chosen) =>
    void work(async () => {
      const ids = chosen.all
        ? (await ask(dependants.ids, { query: { ...which } })).ids.filter((id) => !chosen.ids.has(id))
        : [...chosen.ids];
      const made = await make({ body: { name: '', dependants: ids } });
      await navigate(`/broadcasts/${made.id}`);
    });
  return { write, busy, error };
}
