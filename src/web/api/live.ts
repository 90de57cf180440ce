import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { Change } from '../../core/api/topics';
import { askAgain } from './client';

/** One live line a tab: what changed is asked again, nothing else. */
export function useLive(on: boolean): void {
  const client = useQueryClient();
  useEffect(() => {
    if (!on) return;
    const source = new EventSource('/api/live');
    source.onmessage = (event: MessageEvent<string>) => {
      const changes = JSON.parse(event.data) as Change[];
      void askAgain(client, [...new Set(changes.map((change) => change.topic))]);
    };
    return () => source.close();
  }, [client, on]);
}
