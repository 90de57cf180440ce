import { Button, Dialog, DialogActions, DialogContent, DialogContentText, DialogTitle } from '@mui/material';
import { useId, type ReactNode } from 'react';

/** Asks once more before what one press too many should not do. Leaving it is what Enter does. */
export function Sure({
  title,
  children,
  act,
  leave,
  confirm,
}: {
  title: string;
  children: ReactNode;
  /** What is done, as its button says it. */
  act: string;
  leave: () => void;
  confirm: () => void;
}): ReactNode {
  const id = useId();
  return (
    <Dialog open onClose={leave} aria-labelledby={id}>
      <DialogTitle id={id}>{title}</DialogTitle>
      <DialogContent>
        <DialogContentText>{children}</DialogContentText>
      </DialogContent>
      <DialogActions>
        <Button onClick={leave} autoFocus>
          Leave it
        </Button>
        <Button
          variant="contained"
          onClick={() => {
            leave();
            confirm();
          }}
        >
          {act}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
