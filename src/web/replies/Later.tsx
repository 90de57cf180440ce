import { Button, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { iso } from '../../core/clock';
import { addDays } from '../../core/people/day';
import { localInstant, wallClock } from '../../core/zones';
import { when } from '../pieces/format';

const MORNING = '08:00';
const AFTERNOON = '13:00';
const HOUR = 3_600_000;

/** Sensible times to look at something again: in an hour, this afternoon, tomorrow morning, Monday morning. */
export function laterTimes(now: number, zone: string): { words: string; at: number }[] {
  const { date } = wallClock(now, zone);
  const at = (day: string, time: string) => localInstant(day, time, zone).instant;
  const weekday = new Date(`${date}T00:00:00Z`).getUTCDay();
  const toMonday = (8 - weekday) % 7 || 7;
  return [
    { words: 'in an hour', at: now + HOUR },
    { words: 'this afternoon', at: at(date, AFTERNOON) },
    { words: 'tomorrow morning', at: at(addDays(date, 1), MORNING) },
    ...(toMonday > 1 ? [{ words: 'on Monday morning', at: at(addDays(date, toMonday), MORNING) }] : []),
  ].filter((each) => each.at > now);
}

/** Puts a conversation away until a time; it comes back by itself then, or when they write again. */
export function Later({
  now,
  zone,
  disabled,
  until,
}: {
  now: number;
  zone: string;
  disabled: boolean;
  until: (at: string) => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement>();
  return (
    <>
      <Button disabled={disabled} aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        Until later…
      </Button>
      <Menu open={anchor !== undefined} anchorEl={anchor} onClose={() => setAnchor(undefined)}>
        {laterTimes(now, zone).map(({ words, at }) => (
          <MenuItem
            key={words}
            onClick={() => {
              setAnchor(undefined);
              until(iso(at));
            }}
          >
            {words}, {when(iso(at), zone, now)}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
