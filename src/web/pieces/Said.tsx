import { Button, Snackbar } from '@mui/material';
import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from 'react';

interface Saying {
  words: string;
  /** Takes back what was done, where that can be. */
  undo?: () => void;
}

const SayContext = createContext<(words: string, undo?: () => void) => void>(() => undefined);

/** Says that something is done, at the one place where that is said; with a way to take it back where there is one. */
export function useSay(): (words: string, undo?: () => void) => void {
  return useContext(SayContext);
}

/** The one place. */
export function Said({ children }: { children: ReactNode }): ReactNode {
  const [said, setSaid] = useState<Saying>();
  const [open, setOpen] = useState(false);
  const say = useCallback((words: string, undo?: () => void) => {
    setSaid({ words, undo });
    setOpen(true);
  }, []);
  const close = useCallback(() => setOpen(false), []);
  const action = useMemo(
    () =>
      said?.undo && (
        <Button
          variant="text"
          color="secondary"
          onClick={() => {
            setOpen(false);
            said.undo?.();
          }}
        >
          Undo
        </Button>
      ),
    [said],
  );
  return (
    <SayContext value={say}>
      {children}
      <Snackbar
        open={open}
        onClose={(_event, reason) => reason !== 'clickaway' && close()}
        // what can be taken back stands longer
        autoHideDuration={said?.undo ? 12_000 : 5000}
        message={said?.words}
        action={action}
        // the acts of most views stand at the middle or the right of the foot
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      />
    </SayContext>
  );
}
