import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { askAgain } from './client';
import { LiveLine, type Around } from './live-line';

const BROWSER: Around = {
  open: (address) => new EventSource(address),
  locks: navigator.locks as LockManager | undefined,
  channel: () => new BroadcastChannel('bell-live'),
  later: (ms, act) => {
    const timer = setTimeout(act, ms);
    return () => clearTimeout(timer);
  },
  chance: Math.random,
};

/**
 * One live line a browser: what changed is asked again, nothing else. `moment`: up to which the page knows; without it nobody is signed in.
 * Answers whether it is broken for the moment, so that what is shown may be old.
 */
export function useLive(moment: string | undefined): boolean {
  const client = useQueryClient();
  const [stale, setStale] = useState(false);
  const on = moment !== undefined;
  useEffect(() => {
    if (moment === undefined) return;
    const line = new LiveLine(
      moment,
      (changes) =>
        void (changes === 'all'
          ? client.invalidateQueries()
          : askAgain(client, [...new Set(changes.map((change) => change.topic))])),
      setStale,
      BROWSER,
    );
    return () => {
      line.end();
      setStale(false);
    };
    // of the first answer: later ones say the moment they were given at, and the line knows its own
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [client, on]);
  return stale;
}
