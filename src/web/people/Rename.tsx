import { Button } from '@mui/material';
import { useState } from 'react';
import { groups, listRule } from '../../core/api/people/groups';
import { useAct } from '../api/client';
import { Choose } from '../pieces/form/choices';
import { Field } from '../pieces/form/Field';
import { Row } from '../pieces/layout';
import { AskingWay } from '../pieces/Sure';
import { Way } from '../pieces/ways';

const after = (n: string | number) => (Number(n) === 1 ? 'leaves it at once' : `leaves it after ${n} in a row`);
const LEAVE = [['', 'stays on it'], ...[1, 2, 3, 5].map((n) => [String(n), after(n)] as const)] as const;

/** After how many broadcasts that did not reach them people leave a list. */
export function ListRule({
  id,
  rule,
  attempt,
}: {
  id: string;
  rule: number | null;
  attempt: (work: () => Promise<unknown>) => Promise<void>;
}) {
  const change = useAct(listRule);
  const value = rule === null ? '' : String(rule);
  return (
    <span>
      whoever is not reached{' '}
      <Choose
        label="When people leave the list by themselves"
        value={value}
        options={LEAVE.some(([key]) => key === value) ? LEAVE : [...LEAVE, [value, after(value)] as const]}
        onChange={(next) =>
          void attempt(() => change({ params: { id }, body: { leave_after: next === '' ? null : Number(next) } }))
        }
      />
    </span>
  );
}

/** A list's or tag's own name, and its end. */
export function Rename({
  kind,
  id,
  name,
  attempt,
  gone,
}: {
  kind: 'list' | 'tag';
  id: string;
  name: string;
  attempt: (work: () => Promise<unknown>) => Promise<void>;
  gone: () => void;
}) {
  const [typed, setTyped] = useState<string>();
  const rename = useAct(groups[kind].rename);
  const remove = useAct(groups[kind].remove);
  return (
    <>
      {typed === undefined ? (
        <Way onClick={() => setTyped(name)}>rename</Way>
      ) : (
        <Row
          as="form"
          nowrap
          onSubmit={(event: React.FormEvent) => {
            event.preventDefault();
            void attempt(async () => {
              await rename({ params: { id }, body: { name: typed } });
              setTyped(undefined);
            });
          }}
        >
          <Field label={`New name of the ${kind}`} value={typed} onChange={setTyped} autoFocus />
          <Button type="submit" disabled={typed.trim() === ''}>
            Rename the {kind}
          </Button>
        </Row>
      )}
      <AskingWay
        says="delete…"
        title={`Delete the ${kind} “${name}”?`}
        act={`Delete the ${kind}`}
        confirm={() =>
          void attempt(async () => {
            await remove({ params: { id } });
            gone();
          })
        }
      >
        The people stay. What was sent to them stays, too.
      </AskingWay>
    </>
  );
}
