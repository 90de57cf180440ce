import { useEffect, useState, type ReactNode } from 'react';
import { Refused } from '../api/client';

/** One clear sentence about what is wrong, announced. */
export function Trouble({ error }: { error: unknown }): ReactNode {
  if (!error) return null;
  const text = error instanceof Refused ? error.message : error instanceof Error ? error.message : String(error);
  return (
    <div className="alert" role="alert">
      {text}
    </div>
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
    <p className="soft" role="status" style={{ padding: 16 }}>
      {shown ? what : ''}
    </p>
  );
}

/** A value chosen from a few: looks like a value (caret, dotted base), works like a select. */
export function Choose<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}): ReactNode {
  return (
    <span className="value-wrap">
      <select
        className="value"
        aria-label={label}
        value={value}
        onChange={(event) => onChange(event.target.value as T)}
        style={{ paddingRight: 0 }}
      >
        {options.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </span>
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
