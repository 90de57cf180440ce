import { useState } from 'react';
import { Choose } from '../../pieces/form/choices';
import { TakeAway, Way } from '../../pieces/ways';

/** Lists or tags, any of them. */
export function Picked({
  label,
  ids,
  among,
  change,
}: {
  label: string;
  ids: readonly number[];
  among: readonly { id: number; name: string }[];
  change: (ids: number[]) => void;
}) {
  const [more, setMore] = useState(false);
  const options = (now: number): (readonly [string, string])[] => [
    ...(among.some((each) => each.id === now) ? [] : [[String(now), 'choose…'] as const]),
    ...among.map((each) => [String(each.id), each.name] as const),
  ];
  return (
    <>
      {ids.map((id, at) => (
        <span key={at}>
          {at > 0 && 'or '}
          <Choose
            label={label}
            value={String(id)}
            options={options(id)}
            onChange={(next) => change(ids.map((each, i) => (i === at ? Number(next) : each)))}
          />{' '}
          {ids.length > 1 && <TakeAway label="Not this one" onClick={() => change(ids.filter((_, i) => i !== at))} />}{' '}
        </span>
      ))}
      {more || ids.length === 0 ? (
        <Choose
          label={`Another ${label.toLowerCase()}`}
          value="0"
          options={options(0)}
          onChange={(next) => {
            setMore(false);
            change([...ids, Number(next)]);
          }}
        />
      ) : (
        <Way small onClick={() => setMore(true)}>
          or…
        </Way>
      )}
    </>
  );
}
