import { useState } from 'react';

/**
 * What is being taken away is not asked for any more: while `leaving`, its view asks nothing, and no live change makes it ask for what is
 * gone. Where the act is refused it is there still, and is asked for again.
 */
export function useLeaving(): { leaving: boolean; leave: (act: () => Promise<unknown>) => Promise<void> } {
  const [leaving, setLeaving] = useState(false);
  const leave = async (act: () => Promise<unknown>) => {
    setLeaving(true);
    try {
      await act();
    } catch (refused) {
      setLeaving(false);
      throw refused;
    }
  };
  return { leaving, leave };
}
