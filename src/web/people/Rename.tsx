import { Button } from '@mui/material';
import { useState } from 'react';
import { groups } from '../../core/api/groups';
import { useAct } from '../api/client';
import { Field } from '../pieces/Field';
import { Row } from '../pieces/layout';
import { AskingWay } from '../pieces/Sure';
import { Way } from '../pieces/ways';

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
