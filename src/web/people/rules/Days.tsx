import { TypedValue } from '../../pieces/form/choices';

/** So many days. */
export function Days({ value, change }: { value: number; change: (days: number) => void }) {
  return (
    <>
      <TypedValue
        strong
        label="Days"
        type="number"
        input={{ min: 0, max: 3650 }}
        value={value}
        onChange={(typed) => change(Math.max(0, Math.min(3650, Math.round(Number(typed) || 0))))}
      />{' '}
      {value === 1 ? 'day' : 'days'}
    </>
  );
}
