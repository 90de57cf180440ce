import { Button, Dialog, DialogActions, DialogContent, DialogContentText, DialogTitle } from '@mui/material';
import { useState } from 'react';

/** Takes a number off whoever has it and never texts it again: nothing that one press too many should do. */
export function WrongNumber({ number, whose, confirm }: { number: string; whose: string; confirm: () => void }) {
  const [asking, setAsking] = useState(false);
  return (
    <>
      <Button variant="quiet" onClick={() => setAsking(true)}>
        Wrong number
      </Button>
      <Dialog open={asking} onClose={() => setAsking(false)} aria-labelledby="wrong-number">
        <DialogTitle id="wrong-number">Is {number} a wrong number?</DialogTitle>
        <DialogContent>
          <DialogContentText>
            {whose === '' ? 'It' : `It is taken off ${whose},`} goes on the do-not-text register, and is taken out of everything
            planned. Whoever answered is not texted again.
          </DialogContentText>
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setAsking(false)} autoFocus>
            Leave it
          </Button>
          <Button
            variant="contained"
            onClick={() => {
              setAsking(false);
              confirm();
            }}
          >
            It is a wrong number
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
