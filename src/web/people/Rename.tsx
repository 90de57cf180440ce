import { Button } from '@mui/material';
import { useState } from 'react';
import { send } from '../api/client';

/** A list's or tag's own name, and its end. */
export function Rename({
  kind,
  id,
  name,
  attempt,
  gone,
}: {
  kind: string;
  id: string;
  name: string;
  attempt: (work: () => Promise<unknown>) => Promise<void>;
  gone: () => void;
}) {
  const [typed, setTyped] = useState<string>();
  const [sure, setSure] = useState(false);
  const one = kind.slice(0, -1);
  return (
    <>
      {typed === undefined ? (
        <button type="button" className="way" onClick={() => setTyped(name)}>
          rename
        </button>
      ) : (
        <form
          className="row nowrap"
          onSubmit={(event) => {
            event.preventDefault();
            void attempt(async () => {
              await send('PUT', `/api/${kind}/${id}`, { name: typed });
              setTyped(undefined);
            });
          }}
        >
          <input
            className="field"
            aria-label={`New name of the ${one}`}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          <Button type="submit" disabled={typed.trim() === ''}>
            Rename the {one}
          </Button>
        </form>
      )}
      {sure ? (
        <Button
          onClick={() =>
            void attempt(async () => {
              await send('DELETE', `/api/${kind}/${id}`);
              gone();
            })
          }
        >
          Delete the {one}; the people stay
        </Button>
      ) : (
        <button type="button" className="way" onClick={() => setSure(true)}>
          delete…
        </button>
      )}
    </>
  );
}
