import type { Day } from '../../core/api/desk/today';
import { runStateWords } from '../../core/outcome/run-words';
import ChevronLeft from '@mui/icons-material/ChevronLeft';
import ChevronRight from '@mui/icons-material/ChevronRight';
import { Box, Button, IconButton } from '@mui/material';
import { styled } from '@mui/material/styles';
import { scaleLinear } from 'd3-scale';
import { useEffect, useRef, useState } from 'react';
import { useSingleKey } from './single-keys';
import { useNavigate } from 'react-router';
import { today } from '../../core/api/desk/today';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { clockTime, count, dayOf, people } from '../pieces/format';
import { THUMB } from '../theme/touch';
import { Spoken } from '../pieces/layout';
import { useNow } from '../pieces/small';

const HEIGHT = 66;
const BASE = 46;
/** What is said stands above everything that is drawn, px. */
const SAID = 21;
const TALLEST = BASE - SAID - 1;

const Line = styled(Box)(({ theme }) => ({
  background: theme.bell.frame,
  color: theme.bell.frameSoft,
  borderTop: `1px solid ${theme.bell.frameLine}`,
  height: HEIGHT,
  position: 'relative',
  flex: 'none',
  overflow: 'hidden',
  touchAction: 'pan-y',
  '& :focus-visible': { outlineColor: theme.bell.yellow },
  '& > svg': { position: 'absolute', inset: 0, width: '100%', height: '100%' },
  '@media print': { display: 'none' },
}));
const Saying = styled('span')(({ theme }) => ({
  position: 'absolute',
  top: 1,
  lineHeight: `${SAID - 2}px`,
  fontSize: 13,
  fontWeight: 600,
  color: theme.bell.yellow,
  borderRadius: 3,
  padding: '0 5px',
  whiteSpace: 'nowrap',
}));
const Days = styled('span')(({ theme }) => ({
  position: 'absolute',
  right: 8,
  top: 4,
  display: 'flex',
  gap: 4,
  '& button': {
    background: theme.bell.frame,
    color: theme.bell.frameSoft,
    border: `1px solid ${theme.bell.frameLine}`,
    borderRadius: 3,
    fontSize: 12,
    padding: '0 2px',
    lineHeight: '22px',
    minWidth: 26,
    minHeight: 24,
  },
  [theme.breakpoints.down('md')]: {
    top: 0,
    right: 0,
    '& button': { minWidth: THUMB, minHeight: THUMB, border: 0, fontSize: 18 },
  },
  '& button:hover': { color: theme.bell.onFrame, borderColor: theme.bell.frameSoft },
}));

function hoursOf(clock: string): number {
  return Number(clock.slice(0, 2)) + Number(clock.slice(3, 5)) / 60;
}

const Unseen = styled('p')({ padding: '20px 20px 0', color: 'var(--frame-soft)', fontSize: 14 });

/** The day as one strip on every page: what went, what will go, what comes next. Nights are compressed and hatched. */
export function BellLine() {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 1000);
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1280);
  const [date, setDate] = useState<string>();
  const asked = useGet(today.day, { query: { date } }, { every: 30_000, keep: true });
  const day = asked.data;
  const move = (days: number) => {
    if (!day) return;
    const next = new Date(`${day.date}T12:00:00Z`);
    next.setUTCDate(next.getUTCDate() + days);
    setDate(next.toISOString().slice(0, 10));
  };
  useSingleKey('[', () => move(-1), { useKey: true });
  useSingleKey(']', () => move(1), { useKey: true });
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setWidth(element.clientWidth));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  if (!day)
    return (
      <Line ref={box} role="region" aria-label="The day">
        {asked.error && <Unseen role="status">The day cannot be shown just now. It is asked for again by itself.</Unseen>}
      </Line>
    );
  const from = Date.parse(day.from);
  const hours = (Date.parse(day.to) - from) / 3_600_000;
  const small = width < 700;
  const isToday = now >= from && now < Date.parse(day.to);
  const open = hoursOf(day.quiet_to);
  const close = hoursOf(day.quiet_from);
  const middle = isToday ? (now - from) / 3_600_000 : 12;
  // nights take a fixed sixth and twelfth of the strip; on a phone it shows now and three hours either side
  const scale = small
    ? scaleLinear([middle - 3, middle + 3], [0, width])
    : scaleLinear([0, open, close, hours], [0, width * 0.173, width * 0.925, width]);
  const heightOf = scaleLinear([0, Math.sqrt(Math.max(50, ...day.runs.map((run) => run.people)))], [7, TALLEST]);
  const at = (instant: string | number) => scale((new Date(instant).getTime() - from) / 3_600_000);
  const nowX = at(now);
  const saidNow = !isToday
    ? dayOf(from + 43_200_000, day.zone)
    : day.sending
      ? `${clockTime(now, day.zone)} · ${day.sending.state}, ${count(day.sending.gone)} of ${count(day.sending.people)}`
      : day.next
        ? `${clockTime(now, day.zone)} · next ${dayOf(day.next.due_at, day.zone) === dayOf(now, day.zone) ? '' : `${dayOf(day.next.due_at, day.zone)}, `}${clockTime(day.next.due_at, day.zone)}, ${people(day.next.people)}`
        : `${clockTime(now, day.zone)} · nothing scheduled`;
  const rightSide = nowX > width * 0.42 || !isToday;
  return (
    <Line ref={box} role="region" aria-label={`The day, ${saidNow}`}>
      <svg aria-hidden={false} role="group" aria-label="Runs of the day">
        <defs>
          <pattern id="night" width="10" height="10" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="3" height="10" fill="var(--frame-line)" />
          </pattern>
        </defs>
        <rect x={0} y={0} width={Math.max(0, scale(open))} height={BASE} fill="url(#night)" />
        <rect x={scale(close)} y={0} width={Math.max(0, width - scale(close))} height={BASE} fill="url(#night)" />
        <line x1={0} x2={width} y1={BASE + 0.5} y2={BASE + 0.5} stroke="var(--frame-soft)" strokeOpacity={0.6} />
        {Array.from({ length: Math.round(hours) + 1 }, (_, hour) => hour)
          .filter((hour) => hour >= open && hour <= close)
          .map((hour) => (
            <g key={hour}>
              <line x1={scale(hour)} x2={scale(hour)} y1={BASE - 4} y2={BASE} stroke="var(--frame-soft)" />
              <text x={scale(hour)} y={BASE + 14} fill="var(--frame-soft)" fontSize={12} textAnchor="middle">
                {clockTime(from + hour * 3_600_000, day.zone).replace(':00', '')}
              </text>
            </g>
          ))}
        {!small && (
          <text x={scale(open) / 1.85} y={BASE + 14} fill="var(--frame-soft)" fontSize={12} textAnchor="middle">
            quiet
          </text>
        )}
        <Runs day={day} at={at} heightOf={heightOf} small={small} />
        <Coming day={day} heightOf={heightOf} at={at} small={small} />
        {isToday && <rect x={nowX - 1} y={small ? SAID : 0} width={2.5} height={HEIGHT} fill="var(--yellow)" />}
      </svg>
      <Saying
        style={small ? { left: 7 } : rightSide && isToday ? { right: width - nowX + 8 } : { left: isToday ? nowX + 8 : 12 }}
      >
        {saidNow}
      </Saying>
      <Days>
        <IconButton onClick={() => move(-1)} aria-label="The day before">
          <ChevronLeft fontSize="inherit" />
        </IconButton>
        {date && (
          <Button variant="quiet" onClick={() => setDate(undefined)}>
            today
          </Button>
        )}
        <IconButton onClick={() => move(1)} aria-label="The day after">
          <ChevronRight fontSize="inherit" />
        </IconButton>
      </Days>
      <Spoken>{workspace.name}</Spoken>
    </Line>
  );
}

/** The runs of the day, each from its first text to its last. */
interface Blocks {
  day: Day;
  at: (instant: string | number) => number;
  heightOf: (n: number) => number;
  /** On a phone each is hit with a thumb. */
  small: boolean;
}

function Runs({ day, at, heightOf, small }: Blocks) {
  const navigate = useNavigate();
  return (
    <>
      {day.runs.map((run) => {
        const x = at(run.first);
        const w = Math.max(8, at(run.last) - x);
        const h = heightOf(Math.sqrt(run.people));
        const done = ['settling', 'finished', 'stopped', 'missed'].includes(run.state);
        const live = run.state === 'sending' || run.state === 'paused';
        const path = `/runs/${run.id}`;
        const words = `${clockTime(run.first, day.zone)}, ${run.name}, ${people(run.people)}, ${runStateWords(run.state)}${run.alarm ? `. Wrong: ${run.alarm}` : ''}`;
        return (
          <a key={run.id} href={path} aria-label={words} onClick={(event) => (event.preventDefault(), void navigate(path))}>
            <title>{words}</title>
            {small && (
              <rect x={x + w / 2 - Math.max(w, THUMB) / 2} y={0} width={Math.max(w, THUMB)} height={BASE} fill="transparent" />
            )}
            <rect
              x={x}
              y={BASE - h}
              width={w}
              height={h}
              rx={1}
              fill={done ? 'var(--frame-soft)' : live ? 'var(--yellow)' : 'var(--frame)'}
              fillOpacity={live ? 0.45 : 1}
              stroke={live ? 'var(--yellow)' : done ? 'none' : 'var(--on-frame)'}
            />
            {/* a broken ring over it: something is wrong, and nobody has seen it */}
            {run.alarm && (
              <circle
                cx={x + w / 2}
                cy={Math.max(SAID + 6, BASE - h - 7)}
                r={4}
                fill="none"
                stroke="var(--frame-brick)"
                strokeWidth={2.2}
                strokeDasharray="19 6"
              />
            )}
          </a>
        );
      })}
    </>
  );
}

/** What comes again on this day. */
function Coming({ day, heightOf, at, small }: Blocks) {
  const navigate = useNavigate();
  return (
    <>
      {day.coming.map((each) => {
        const path = `/broadcasts/${each.broadcast_id}`;
        const words = `${clockTime(each.at, day.zone)}, ${each.name}, again, ${people(each.people)} the last time`;
        const h = heightOf(Math.sqrt(each.people));
        return (
          <a key={path} href={path} aria-label={words} onClick={(event) => (event.preventDefault(), void navigate(path))}>
            <title>{words}</title>
            {small && <rect x={at(each.at) + 4.5 - THUMB / 2} y={0} width={THUMB} height={BASE} fill="transparent" />}
            <rect
              x={at(each.at)}
              y={BASE - h}
              width={9}
              height={h}
              fill="var(--frame)"
              stroke="var(--on-frame)"
              strokeDasharray="3 2"
            />
          </a>
        );
      })}
    </>
  );
}
