import { useEffect, useRef, useState } from 'react';

/** A press on something that may still be counted. */
export interface KeptPress {
  press(): void;
  /** It was pressed, and waits for what is being counted. */
  kept: boolean;
  /** What came of counting is not what stood there when it was pressed: it has to be pressed once more. */
  moved: boolean;
}

/**
 * No press is swallowed: one that comes while its figure is being counted is kept, and done as soon as it is counted and comes to what
 * stood there. Where it comes to something else, nothing is done and that is said.
 * Pressed again while it is being done, it is the same press.
 * @param stands what is pressed for, as it stands there
 */
export function useKeptPress({ counted, stands, act }: { counted: boolean; stands: string; act: () => unknown }): KeptPress {
  const [kept, setKept] = useState<string>();
  const [moved, setMoved] = useState<string>();
  const latest = useRef(act);
  const acting = useRef(false);
  useEffect(() => {
    latest.current = act;
  });
  useEffect(() => {
    if (kept === undefined || !counted) return;
    setKept(undefined);
    if (kept !== stands) return setMoved(stands);
    acting.current = true;
    const over = () => {
      acting.current = false;
    };
    Promise.resolve(latest.current()).then(over, over);
  }, [kept, counted, stands]);
  return {
    press() {
      if (acting.current) return;
      setMoved(undefined);
      setKept(stands);
    },
    kept: kept !== undefined,
    moved: moved === stands && counted,
  };
}
