import { Button } from '@mui/material';
import { useState } from 'react';
import { Sure } from '../pieces/Sure';

/** Takes a number off whoever has it and never texts it again: nothing that one press too many should do. */
export function WrongNumber({ number, whose, confirm }: { number: string; whose: string; confirm: () => void }) {
  const [asking, setAsking] = useState(false);
  return (
    <>
      <Button variant="quiet" onClick={() => setAsking(true)}>
        Wrong number
      </Button>
      {asking && (
        <Sure title={`Is ${number} a wrong number?`} act="It is a wrong number" leave={() => setAsking(false)} confirm={confirm}>
          {whose === '' ? 'It' : `It is taken off ${whose},`} goes on the do-not-text register, and is taken out of everything
          planned. Whoever answered is not texted again.
        </Sure>
      )}
    </>
  );
}
