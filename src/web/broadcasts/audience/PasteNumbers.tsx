import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material';
import { useEffect, useState } from 'react';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import type { Answer } from '../../../core/api/endpoint';
import { ask } from '../../api/client';
import { count } from '../../pieces/format';
import { Bit, Words } from '../../pieces/layout';
import { useKeptPress } from '../../pieces/kept-press';
import { showPhone } from '../../pieces/phone';
import { Way } from '../../pieces/ways';
import { Trouble, useSettled } from '../../pieces/small';

type Read = Answer<typeof broadcasts.readNumbers>;

/** Numbers typed or pasted for this broadcast only; read as they are typed, the others with why not. */
export function PasteNumbers({ add, close, leaving }: { add: (numbers: string[]) => void; close: () => void; leaving: boolean }) {
  const [text, setText] = useState('');
  const [read, setRead] = useState<Read>();
  const [readOf, setReadOf] = useState('');
  const [error, setError] = useState<unknown>();
  const settled = useSettled(text, 200);
  useEffect(() => {
    let current = true;
    if (settled.trim() === '') setRead(undefined);
    else
      ask(broadcasts.readNumbers, { body: { text: settled } })
        .then((answer) => current && (setRead(answer), setReadOf(settled), setError(undefined)))
        .catch((refused: unknown) => current && setError(refused));
    return () => {
      current = false;
    };
  }, [settled]);
  const n = read?.numbers.length ?? 0;
  const known = read !== undefined && readOf === text;
  const wrong = known ? read.wrong.length : 0;
  // pressed while they are read, they go in when they are, unless some of them are no numbers: that is seen first
  const put = useKeptPress({ counted: known, stands: String(wrong), act: () => n > 0 && read && add(read.numbers) });
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>{leaving ? 'Numbers to leave out' : 'Typed or pasted numbers'}</DialogTitle>
      <DialogContent>
        <Words soft small below={8}>
          One a line, or separated by commas, semicolons or tabs. A number that is someone’s here is that person, with what they
          said about being texted.
        </Words>
        <TextField
          multiline
          rows={7}
          autoFocus
          hiddenLabel
          value={text}
          onChange={(event) => setText(event.target.value)}
          slotProps={{ htmlInput: { 'aria-label': 'Numbers' } }}
        />
        <Words as="p" small above={6} role="status">
          {read && (
            <>
              <b>{count(n)}</b> {n === 1 ? 'number' : 'numbers'}
              {read.twice > 0 ? `, ${count(read.twice)} written twice` : ''}
              {read.left > 0 ? `; at most 5,000 at once, ${count(read.left)} are left` : ''}
              {read.wrong.length > 0 && <Bit brick>, {count(read.wrong.length)} that are none:</Bit>}
            </>
          )}
        </Words>
        <Words as="ul" small>
          {(read?.wrong ?? []).slice(0, 6).map((each, i) => (
            <li key={i}>
              {each.text} <Bit soft>{each.why}</Bit>
              {each.after !== null && (
                <>
                  {' '}
                  <Way onClick={() => setText(text.replace(each.text, each.after ?? each.text))}>
                    take {showPhone(each.after)}
                  </Way>
                </>
              )}
            </li>
          ))}
        </Words>
        <Trouble error={error} />
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Leave it</Button>
        <Button variant="contained" disabled={text.trim() === '' || (known && n === 0)} onClick={put.press}>
          {!known && text.trim() !== '' ? 'Reading…' : leaving ? `Leave out ${count(n)}` : `Add ${count(n)}`}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
