import { Button, Dialog, DialogActions, DialogContent, DialogContentText, DialogTitle } from '@mui/material';
import { useId, useState, type ReactNode } from 'react';
import { Way } from './ways';

/** Asks once more before what one press too many should not do. Leaving it is what Enter does. */
export function Sure({
  title,
  children,
  act,
  stay = 'Leave it',
  leave,
  confirm,
}: {
  title: string;
  children: ReactNode;
  /** What is done, as its button says it. */
  act: string;
  /** What leaves everything as it is, as its button says it. */
  stay?: string;
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
          {stay}
        </Button>
        <Button
          variant="contained"
          onClick={() => {
            confirm();
            leave();
          }}
        >
          {act}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** A way to an act that asks once more: "delete…". */
export function AskingWay({
  says,
  small,
  brick,
  ...asked
}: Omit<Parameters<typeof Sure>[0], 'leave'> & { says: string; small?: boolean; brick?: boolean }): ReactNode {
  const [asking, setAsking] = useState(false);
  return (
    <>
      <Way small={small} brick={brick} onClick={() => setAsking(true)}>
        {says}
      </Way>
      {asking && <Sure {...asked} leave={() => setAsking(false)} />}
    </>
  );
}
