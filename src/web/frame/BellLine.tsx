import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { clockTime, count, dayOf, people } from '../pieces/format';
import { useNow } from '../pieces/small';

interface Day {
  date: string;
  from: string;
  to: string;
  zone: string;
  quiet_from: string;
  quiet_to: string;
  runs: { id: number; name: string; state: string; people: number; first: string; last: string }[];
  next: { id: number; name: string; due_at: string; people: number } | null;
  sending: { id: number; name: string; people: number; gone: number; state: string } | null;
}

const HEIGHT = 60;
const BASE = 38;

function hoursOf(clock: string): number {
  return Number(clock.slice(0, 2)) + Number(clock.slice(3, 5)) / 60;
}

/** The day as one strip on every page: what went, what will go, what comes next. Nights are compressed and hatched. */
export function BellLine() {
  const { workspace, offset } = useDesk();
  const navigate = useNavigate();
  const now = useNow(offset, 1000);
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1280);
  const [date, setDate] = useState<string>();
  const day = useGet<Day>(`/api/day${date ? `?date=${date}` : ''}`, { every: 30_000, keep: true }).data;
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setWidth(element.clientWidth));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  if (!day) return <div className="bell" ref={box} />;
  const from = Date.parse(day.from);
  const hours = (Date.parse(day.to) - from) / 3_600_000;
  const small = width < 700;
  const isToday = now >= from && now < Date.parse(day.to);
  const open = hoursOf(day.quiet_to);
  const close = hoursOf(day.quiet_from);
  // nights take a fixed sixth and twelfth of the strip; on a phone it shows now and three hours either side
  const scale = (hour: number): number => {
    if (small) {
      const middle = isToday ? (now - from) / 3_600_000 : 12;
      return ((hour - middle + 3) / 6) * width;
    }
    const left = width * 0.173;
    const right = width * 0.075;
    if (hour <= open) return (hour / open) * left;
    if (hour >= close) return width - right + ((hour - close) / (hours - close)) * right;
    return left + ((hour - open) / (close - open)) * (width - left - right);
  };
  const at = (instant: string | number) => scale((new Date(instant).getTime() - from) / 3_600_000);
  const most = Math.max(50, ...day.runs.map((run) => run.people));
  const nowX = at(now);
  const said = !isToday
    ? dayOf(from + 43_200_000, day.zone)
    : day.sending
      ? `${clockTime(now, day.zone)} · ${day.sending.state}, ${count(day.sending.gone)} of ${count(day.sending.people)}`
      : day.next
        ? `${clockTime(now, day.zone)} · next ${dayOf(day.next.due_at, day.zone) === dayOf(now, day.zone) ? '' : `${dayOf(day.next.due_at, day.zone)}, `}${clockTime(day.next.due_at, day.zone)}, ${people(day.next.people)}`
        : `${clockTime(now, day.zone)} · nothing scheduled`;
  const move = (days: number) => {
    const next = new Date(`${day.date}T12:00:00Z`);
    next.setUTCDate(next.getUTCDate() + days);
    setDate(next.toISOString().slice(0, 10));
  };
  const rightSide = nowX > width * 0.42 || !isToday;
  return (
    <div className="bell" ref={box} role="region" aria-label={`The day, ${said}`}>
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
        {day.runs.map((run) => {
          const x = at(run.first);
          const w = Math.max(8, at(run.last) - x);
          const h = 7 + 24 * Math.sqrt(run.people / most);
          const done = ['finished', 'stopped', 'missed'].includes(run.state);
          const live = run.state === 'sending' || run.state === 'paused';
          const path = done || live ? `/runs/${run.id}` : `/runs/${run.id}`;
          const words = `${clockTime(run.first, day.zone)}, ${run.name}, ${people(run.people)}, ${run.state}`;
          return (
            <a key={run.id} href={path} aria-label={words} onClick={(event) => (event.preventDefault(), void navigate(path))}>
              <title>{words}</title>
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
            </a>
          );
        })}
        {isToday && <rect x={nowX - 1} y={0} width={2.5} height={HEIGHT} fill="var(--yellow)" />}
      </svg>
      <span className="said" style={rightSide && isToday ? { right: width - nowX + 8 } : { left: isToday ? nowX + 8 : 12 }}>
        {said}
      </span>
      <span className="days">
        <button type="button" onClick={() => move(-1)} aria-label="The day before">
          ‹
        </button>
        {date && (
          <button type="button" onClick={() => setDate(undefined)}>
            today
          </button>
        )}
        <button type="button" onClick={() => move(1)} aria-label="The day after">
          ›
        </button>
      </span>
      <span className="visually-hidden">{workspace.name}</span>
    </div>
  );
}
