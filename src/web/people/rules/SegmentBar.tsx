import { Button } from '@mui/material';
import { useState } from 'react';
import type { Condition, Group } from '../../../core/audience/condition';
import { segments } from '../../../core/api/people/groups';
import { useAct } from '../../api/client';
import { Field } from '../../pieces/form/Field';
import { count } from '../../pieces/format';
import { Row } from '../../pieces/layout';
import { AskingWay } from '../../pieces/Sure';
import { Way } from '../../pieces/ways';

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
  const make = useAct(segments.make);
  const change = useAct(segments.change);
  const remove = useAct(segments.remove);
  const [name, setName] = useState(kept?.name ?? '');
  const save = () =>
    attempt(async () => {
      if (kept) {
        await change({ params: { id: kept.id }, body: { name, rule: whole(rule) } });
        saved(kept.id);
      } else saved((await make({ body: { name, rule: whole(rule) } })).id);
    });
  return (
    <Row gap={12} pad="6px 0 8px">
      <span aria-live="polite">
        {counted ? (
          <>
            <b>{count(counted.people)}</b> now, {count(counted.can)} can be texted
          </>
        ) : (
          'counting…'
        )}
      </span>
      {(changed || (kept && name !== kept.name)) && (
        <Row
          as="form"
          nowrap
          onSubmit={(event: React.FormEvent) => {
            event.preventDefault();
            void save();
          }}
        >
          <Row width={200}>
            <Field label="Name of the segment" placeholder="Name it to keep it" value={name} onChange={setName} />
          </Row>
          <Button type="submit" variant="contained" disabled={name.trim() === ''}>
            {kept ? 'Save the change' : 'Keep as a segment'}
          </Button>
        </Row>
      )}
      {changed && segment !== 'new' && (
        <Way small onClick={leave}>
          {kept ? 'leave it as it was' : 'no filter'}
        </Way>
      )}
      {kept && !changed && (
        <>
          {name === kept.name && (
            <Way small onClick={() => setName(`${kept.name} `)}>
              rename
            </Way>
          )}
          <AskingWay
            small
            says="delete…"
            title={`Delete the segment “${kept.name}”?`}
            act="Delete the segment"
            confirm={() =>
              void attempt(async () => {
                await remove({ params: { id: kept.id } });
                saved(undefined);
              })
            }
          >
            The people stay. Drafts that name it say that it is gone.
          </AskingWay>
        </>
      )}
    </Row>
  );
}
