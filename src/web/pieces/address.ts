import { useCallback, useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';

export type InAddress = Readonly<Record<string, string>>;

/** One way of writing them, whichever was chosen first. */
const written = (keys: readonly string[], values: InAddress) =>
  new URLSearchParams(keys.flatMap((key) => (values[key] ? [[key, values[key]]] : []))).toString();
const read = (address: string): InAddress => Object.fromEntries(new URLSearchParams(address));

/**
 * What narrows a page and stands in its address, so that a link and a reload keep it. The values change at once; the address follows
 * when the router gets to it: bound to the address itself, a field loses letters that are typed faster than that.
 * @param keys of the query that are meant; what else the address has goes with the first change
 * @returns the values, how to change some of them, and the query they make
 */
export function useInAddress(
  keys: readonly string[],
  { replace = true }: { replace?: boolean } = {},
): [InAddress, (part: InAddress) => void, string] {
  const [params, setParams] = useSearchParams();
  const there = written(keys, Object.fromEntries(params));
  const [values, setValues] = useState(() => read(there));
  const latest = useRef(values);
  // put into the address by us, and not seen there yet
  const onTheWay = useRef<string[]>([]);
  useEffect(() => {
    const ours = onTheWay.current.indexOf(there);
    if (written(keys, latest.current) === there) onTheWay.current = [];
    else if (ours >= 0) onTheWay.current.splice(0, ours + 1);
    else {
      latest.current = read(there);
      setValues(latest.current);
    }
  }, [there, keys]);
  const change = useCallback(
    (part: InAddress) => {
      latest.current = { ...latest.current, ...part };
      setValues(latest.current);
      const next = written(keys, latest.current);
      onTheWay.current.push(next);
      setParams(next, { replace });
    },
    [keys, setParams, replace],
  );
  return [values, change, written(keys, values)];
}

/** What an address asks to be begun (`?new=1`): begun once, with what was asked; the address then is without it. */
export function useAskedFor(key: string, begin: (what: string) => void): void {
  const [params, setParams] = useSearchParams();
  const what = params.get(key);
  const latest = useRef(begin);
  useEffect(() => {
    latest.current = begin;
  });
  useEffect(() => {
    if (what === null) return;
    setParams(
      (now) => {
        now.delete(key);
        return now;
      },
      { replace: true },
    );
    latest.current(what);
  }, [what, key, setParams]);
}
