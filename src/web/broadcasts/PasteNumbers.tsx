import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { useEffect, useState } from 'react';
import { send } from '../api/client';
import { count } from '../pieces/format';
import { Trouble, useSettled } from '../pieces/small';

interface Read {
  numbers: string[];
  wrong: { text: string; why: string }[];
  twice: number;
  left: number;
}

/** Numbers typed or pasted for this broadcast only; read as they are typed, the others with why not. */
export function PasteNumbers({ add, close, leaving }: { add: (numbers: string[]) => void; close: () => void; leaving: boolean }) {
  const [text, setText] = useState('');
  const [read, setRead] = useState<Read>();
  const [error, setError] = useState<unknown>();
  const settled = useSettled(text, 200);
  useEffect(() => {
    let current = true;
    if (settled.trim() === '') setRead(undefined);
    else
      send<Read>('POST', '/api/numbers/read', { text: settled })
        .then((answer) => current && (setRead(answer), setError(undefined)))
        .catch((refused: unknown) => current && setError(refused));
    return () => {
      current = false;
    };
  }, [settled]);
  const n = read?.numbers.length ?? 0;
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>{leaving ? 'Numbers to leave out' : 'Typed or pasted numbers'}</DialogTitle>
      <DialogContent>
        <label className="stack">
          <span className="soft small">
            One a line, or separated by commas, semicolons or tabs. A number that is someone’s here is that person, with what they
            said about being texted.
          </span>
          <textarea className="field" rows={7} autoFocus value={text} onChange={(event) => setText(event.target.value)} />
        </label>
        <p className="small" role="status" style={{ paddingTop: 6 }}>
          {read && (
            <>
              <b>{count(n)}</b> {n === 1 ? 'number' : 'numbers'}
              {read.twice > 0 ? `, ${count(read.twice)} written twice` : ''}
              {read.left > 0 ? `; at most 5,000 at once, ${count(read.left)} are left` : ''}
              {read.wrong.length > 0 && <span className="brick">, {count(read.wrong.length)} that are none:</span>}
            </>
          )}
        </p>
        <ul className="small">
          {(read?.wrong ?? []).slice(0, 6).map((each, i) => (
            <li key={i}>
              {each.text} <span className="soft">{each.why}</span>
            </li>
          ))}
        </ul>
        <Trouble error={error} />
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Leave it</Button>
        <Button variant="contained" disabled={n === 0 || settled !== text} onClick={() => read && add(read.numbers)}>
          {leaving ? `Leave out ${count(n)}` : `Add ${count(n)}`}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
