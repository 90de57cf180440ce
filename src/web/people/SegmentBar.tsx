import { Button } from '@mui/material';
import { useState } from 'react';
import type { Condition, Group } from '../../core/audience/condition';
import { send } from '../api/client';
import { count } from '../pieces/format';

export const asGroup = (rule: Condition): Group => ('op' in rule ? rule : { op: 'all', of: [rule] });

/** A rule as it is asked: values that are still blank are left out, so that half a sentence holds for nobody wrongly. */
export function whole(rule: Group): Group {
  return {
    ...rule,
    of: rule.of.flatMap((each): Condition[] => {
      if ('op' in each) return [whole(each)];
      if (each.on === 'dependant') return [{ ...each, of: whole(asGroup(each.of)) }];
      if (each.on === 'field' && 'values' in each) {
        const values = each.values.filter((value) => value.trim() !== '');
        return values.length === 0 ? [] : [{ ...each, values }];
      }
      return [each];
    }),
  };
}

/** How many it holds for just now, and keeping it under a name. */
export function SegmentBar({
  segment,
  kept,
  rule,
  changed,
  counted,
  attempt,
  leave,
  saved,
}: {
  segment: string;
  kept: { id: number; name: string } | undefined;
  rule: Group;
  changed: boolean;
  counted: { people: number; can: number } | undefined;
  attempt: (work: () => Promise<unknown>) => Promise<void>;
  leave: () => void;
  saved: (id: number | undefined) => void;
}) {
  const [name, setName] = useState(kept?.name ?? '');
  const [sure, setSure] = useState(false);
  const save = () =>
    attempt(async () => {
      if (kept) {
        await send('PUT', `/api/segments/${kept.id}`, { name, rule: whole(rule) });
        saved(kept.id);
      } else saved((await send<{ id: number }>('POST', '/api/segments', { name, rule: whole(rule) })).id);
    });
  return (
    <div className="row" style={{ gap: 12, padding: '6px 0 8px' }}>
      <span aria-live="polite">
        <b>{count(counted?.people ?? 0)}</b> now, {count(counted?.can ?? 0)} can be texted
      </span>
      {(changed || (kept && name !== kept.name)) && (
        <form className="row nowrap" onSubmit={(event) => (event.preventDefault(), void save())}>
          <input
            className="field"
            aria-label="Name of the segment"
            placeholder="Name it to keep it"
            value={name}
            onChange={(event) => setName(event.target.value)}
            style={{ width: 190 }}
          />
          <Button type="submit" variant="contained" disabled={name.trim() === ''}>
            {kept ? 'Save the change' : 'Keep as a segment'}
          </Button>
        </form>
      )}
      {changed && segment !== 'new' && (
        <button type="button" className="way small" onClick={leave}>
          {kept ? 'leave it as it was' : 'no filter'}
        </button>
      )}
      {kept && !changed && (
        <>
          {name === kept.name && (
            <button type="button" className="way small" onClick={() => setName(`${kept.name} `)}>
              rename
            </button>
          )}
          {sure ? (
            <Button
              onClick={() =>
                void attempt(async () => {
                  await send('DELETE', `/api/segments/${kept.id}`);
                  saved(undefined);
                })
              }
            >
              Delete the segment; the people stay
            </Button>
          ) : (
            <button type="button" className="way small" onClick={() => setSure(true)}>
              delete…
            </button>
          )}
        </>
      )}
    </div>
  );
}
