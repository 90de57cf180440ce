import { Alert, Button } from '@mui/material';
import { useQueryClient, type Query } from '@tanstack/react-query';
import { useEffect, useState, type ReactNode } from 'react';
import { Refused } from '../api/client';
import { Words } from './layout';

/** One clear sentence about what is wrong, announced. What could not be loaded for want of an answer is asked again by a press. */
export function Trouble({ error, children }: { error: unknown; children?: ReactNode }): ReactNode {
  const client = useQueryClient();
  if (!error) return null;
  const unanswered = error instanceof Refused && (error.status === 0 || error.status >= 500);
  const failed = { type: 'active', predicate: (query: Query) => query.state.error === error } as const;
  const again = unanswered && client.getQueryCache().findAll(failed).length > 0 && (
    <Button variant="quiet" onClick={() => void client.refetchQueries(failed)}>
      Load it again
    </Button>
  );
  return (
    <Alert severity="error" action={children ?? (again || undefined)}>
      {error instanceof Error ? error.message : String(error)}
    </Alert>
  );
}

/** Loading is said after a moment, so that quick answers do not flicker. */
export function Waiting({ what }: { what: string }): ReactNode {
  const [shown, setShown] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setShown(true), 250);
    return () => clearTimeout(timer);
  }, []);
  return (
    <Words soft pad={16} role="status" aria-busy>
      {shown ? what : ''}
    </Words>
  );
}

/** What stands where there is nothing yet: what this is for, and the one next act. */
export function Nothing({ title, children, act }: { title: string; children: ReactNode; act?: ReactNode }): ReactNode {
  return (
    <Words pad="28px 4px" most={520}>
      <h2>{title}</h2>
      <Words soft pad="6px 0 12px">
        {children}
      </Words>
      {act}
    </Words>
  );
}

/** The page's title for the browser and for screen readers. */
export function useTitle(title: string): void {
  useEffect(() => {
    document.title = `${title} · Yellow Bell`;
  }, [title]);
}

/** Ticks so that "52 min" stays true. */
export function useNow(offset: number, every = 1000): number {
  const [now, setNow] = useState(() => Date.now() + offset);
  useEffect(() => {
    setNow(Date.now() + offset);
    const timer = setInterval(() => setNow(Date.now() + offset), every);
    return () => clearInterval(timer);
  }, [offset, every]);
  return now;
}

/** A value that settles: the last one after `ms` without a change. */
export function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
