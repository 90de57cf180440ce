import { Box } from '@mui/material';
import { styled } from '@mui/material/styles';
import { scaleLinear, type ScaleLinear } from 'd3-scale';
import { useEffect, useId, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import type { PlanSummary } from '../../../core/api/sending/plan';
import { localInstant, wallClock } from '../../../core/zones';
import { useDesk } from '../../api/session';
import { clockTime, count, dayOf, people, when, zoneName } from '../../pieces/format';
import { Bit, Row, Words } from '../../pieces/layout';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const TALL = 44;
const LOW = 22;
const TOP = 24;
const LEFT = 150;
const RIGHT = 150;
const MINUTE = 60_000;
/** Keys move by so much, and what is dragged jumps by it; where all that is shown is less than two hours, by minutes. */
const STEP = 5 * MINUTE;
const stepOf = ({ from, to }: { from: number; to: number }) => (to - from < 2 * HOUR ? MINUTE : STEP);

const Drawing = styled(Box)(({ theme }) => ({
  position: 'relative',
  '& svg': { display: 'block', width: '100%' },
  '& text': { fontFamily: 'inherit', fontSize: 13.5, fill: theme.bell.ink },
  '& text[data-soft]': { fill: theme.bell.soft, fontSize: 12.5 },
  '& [data-bar]': { fill: theme.bell.lake },
  '& [data-rule]': { stroke: theme.bell.hairline },
  '& [data-night]': { stroke: theme.bell.hairline, strokeWidth: 3 },
  '& [data-other]': { fill: 'none', stroke: theme.bell.soft },
  '& [data-edge]': { cursor: 'ew-resize', fill: 'transparent' },
  '& [data-edge]:focus-visible, & [data-edge]:hover': { fill: theme.bell.yellow, outline: 'none' },
}));

/** Something else that goes out then. */
export interface AlsoGoing {
  name: string;
  people: number;
  first: string;
  last: string;
}

/** Texts over time, zone by zone, on our clock, with their quiet hours hatched; the edges can be moved where that means something. */
export function PlanPicture({
  plan,
  also,
  now,
  compact,
  moveStart,
  moveEnd,
}: {
  plan: PlanSummary;
  also: readonly AlsoGoing[];
  now: number;
  /** Beside the figures that say the rest: low rows, no words of its own. */
  compact?: boolean;
  /** The start at another moment, ms; where it may be moved. */
  moveStart?: (to: number) => void;
  /** Evenly until another moment, ms. */
  moveEnd?: (to: number) => void;
}): ReactNode {
  const { workspace } = useDesk();
  const pattern = useId();
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  const [dragged, setDragged] = useState<{ edge: 'start' | 'end'; to: number }>();
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setWidth(element.clientWidth));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  const { course } = plan;
  const high = compact ? LOW : TALL;
  if (!course || !plan.first || !plan.last) return null;
  const zone = workspace.zone;
  const first = Date.parse(plan.first);
  const last = Date.parse(plan.last);
  const [from, to] = rangeOf(first, last);
  const small = width < 620;
  const left = small ? 96 : LEFT;
  const right = small ? 0 : RIGHT;
  const x = scaleLinear([from, to], [left, width - right]);
  const at: Place = { x, from, to, width, right, small, high };
  const rows = course.zones.length;
  const shownAlso = also.filter((each) => Date.parse(each.last) >= from && Date.parse(each.first) <= to).slice(0, 3);
  const height = TOP + rows * high + (shownAlso.length > 0 ? 10 + shownAlso.length * 20 : 4);
  return (
    <Drawing ref={box}>
      {!compact && (
        <Heading first={first} zone={zone} last={last} moveStart={moveStart} moveEnd={moveEnd} dragged={dragged} now={now} />
      )}
      <svg height={height} role="group" aria-label={`Texts over time, ${plan.zones.length} zones`}>
        <defs>
          <pattern id={pattern} width="10" height="10" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line data-night x1="0" y1="0" x2="0" y2="10" />
          </pattern>
        </defs>
        <Hours at={at} zone={zone} />
        <Rows at={at} plan={plan} course={course} pattern={pattern} compact={compact} />
        <Also at={at} also={shownAlso} rows={rows} />
        <Edge at={at} which="start" instant={first} rows={rows} now={now} move={moveStart} drag={setDragged} />
        <Edge at={at} which="end" instant={Math.max(last, first + STEP)} rows={rows} now={now} move={moveEnd} drag={setDragged} />
      </svg>
      {plan.zones.length > rows && (
        <Words soft small>
          and {plan.zones.length - rows} more zones
        </Words>
      )}
    </Drawing>
  );
}

/** Where things stand in the drawing. */
interface Place {
  /** From an instant, ms, to px. */
  x: ScaleLinear<number, number>;
  from: number;
  to: number;
  width: number;
  /** Room for their own time, px. */
  right: number;
  small: boolean;
  /** Of a row, px. */
  high: number;
}

/** An edge of the plan, moved by dragging or with the keys; nothing where that means nothing. */
function Edge({
  at: { x, from, to, high },
  which,
  instant,
  rows,
  now,
  move,
  drag,
}: {
  at: Place;
  which: 'start' | 'end';
  instant: number;
  rows: number;
  now: number;
  move: ((to: number) => void) | undefined;
  /** Told where it is while it is dragged. */
  drag: (dragged: { edge: 'start' | 'end'; to: number } | undefined) => void;
}) {
  const { workspace } = useDesk();
  if (!move) return null;
  const step = stepOf({ from, to });
  const grab = (event: React.PointerEvent<SVGRectElement>) => {
    const svg = event.currentTarget.ownerSVGElement;
    if (!svg) return;
    event.preventDefault();
    const left = svg.getBoundingClientRect().left;
    const under = (moved: PointerEvent) => Math.round(x.invert(moved.clientX - left) / step) * step;
    const follow = (moved: PointerEvent) => drag({ edge: which, to: under(moved) });
    const done = (moved: PointerEvent) => {
      window.removeEventListener('pointermove', follow);
      window.removeEventListener('pointerup', done);
      drag(undefined);
      move(under(moved));
    };
    window.addEventListener('pointermove', follow);
    window.addEventListener('pointerup', done);
  };
  return (
    <rect
      data-edge
      tabIndex={0}
      role="slider"
      aria-label={which === 'start' ? 'Start' : 'Evenly until'}
      aria-valuenow={Math.round(instant / 60_000)}
      aria-valuemin={Math.round(from / 60_000)}
      aria-valuemax={Math.round(to / 60_000)}
      aria-valuetext={when(new Date(instant).toISOString(), workspace.zone, now)}
      // where it would be evenly until, it may be beyond what is drawn: its edge is there to be taken all the same
      x={x(Math.min(instant, to)) + (which === 'start' ? -7 : 0)}
      y={TOP}
      width={7}
      height={rows * high}
      onPointerDown={grab}
      onKeyDown={(event: KeyboardEvent) => {
        const by = { ArrowRight: STEP, ArrowLeft: -STEP, PageUp: HOUR, PageDown: -HOUR }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        move(instant + by);
      }}
    />
  );
}

/** The hours above the rows. */
function Hours({ at: { x, from, to, width, right, small }, zone }: { at: Place; zone: string }) {
  const days = to - from > 36 * HOUR;
  return (
    <>
      {ticksOf(from, to, zone, small ? 4 : 8)
        .filter((tick) => x(tick) < width - right - 24)
        .map((tick) => (
          <text key={tick} data-soft x={x(tick)} y={14} textAnchor="middle">
            {days ? dayOf(tick, zone) : to - from < 6 * HOUR ? clockTime(tick, zone) : clockTime(tick, zone).replace(':00', '')}
          </text>
        ))}
      {!small && (
        <text data-soft x={width - right + 12} y={14}>
          their time
        </text>
      )}
    </>
  );
}

/** A row for each zone: its nights, its texts, and when they go there. */
function Rows({
  at: { x, from, to, width, right, small, high },
  plan,
  course,
  pattern,
  compact,
}: {
  at: Place;
  plan: PlanSummary;
  course: NonNullable<PlanSummary['course']>;
  /** With which nights are hatched, by its id. */
  pattern: string;
  compact: boolean | undefined;
}) {
  const most = Math.max(1, ...course.zones.flatMap(({ texts }) => texts));
  const step = course.step_seconds * 1000;
  const origin = Date.parse(course.from);
  const { workspace } = useDesk();
  return (
    <>
      {course.zones.map((row, i) => {
        const top = TOP + i * high;
        const facts = plan.zones[i];
        return (
          <g key={row.zone}>
            {nights(row.zone, workspace.quiet_from, workspace.quiet_to, from, to).map(([a, b]) => (
              <rect key={a} x={x(a)} y={top} width={Math.max(0, x(b) - x(a))} height={high} fill={`url(#${pattern})`} />
            ))}
            {row.texts.map((n, at) =>
              n === 0 ? null : (
                <rect
                  key={at}
                  data-bar
                  x={x(origin + at * step)}
                  y={top + high - Math.max(3, (n / most) * (high - (compact ? 4 : 10)))}
                  width={Math.max(2, x(origin + (at + 1) * step) - x(origin + at * step))}
                  height={Math.max(3, (n / most) * (high - (compact ? 4 : 10)))}
                />
              ),
            )}
            <line data-rule x1={0} x2={width} y1={top + high + 0.5} y2={top + high + 0.5} />
            <text x={0} y={top + (compact ? 16 : 27)}>
              <tspan fontWeight={650}>{zoneName(row.zone)}</tspan> {compact ? '' : count(facts.people)}
            </text>
            {!small && (
              <text x={width - right + 12} y={top + (compact ? 16 : 27)}>
                {timeSpan(facts.first, facts.last, row.zone)}
              </text>
            )}
          </g>
        );
      })}
    </>
  );
}

/** What else goes out meanwhile. */
function Also({ at: { x, width, right, high }, also, rows }: { at: Place; also: readonly AlsoGoing[]; rows: number }) {
  return (
    <>
      {also.map((each, i) => {
        const top = TOP + rows * high + 8 + i * 20;
        const a = x(Date.parse(each.first));
        return (
          <g key={`${each.name} ${each.first}`}>
            {i === 0 && (
              <text data-soft x={0} y={top + 13}>
                also going out
              </text>
            )}
            <rect data-other x={a} y={top + 3} width={Math.max(8, x(Date.parse(each.last)) - a)} height={11} />
            <text data-soft x={Math.min(a + Math.max(8, x(Date.parse(each.last)) - a) + 8, width - right)} y={top + 13}>
              {each.name}, {people(each.people)}
            </text>
          </g>
        );
      })}
    </>
  );
}

/** Which day, from when until when; and what a drag would make of it. */
function Heading({
  first,
  zone,
  last,
  moveStart,
  moveEnd,
  dragged,
  now,
}: {
  first: number;
  zone: string;
  last: number;
  moveStart: ((to: number) => void) | undefined;
  moveEnd: ((to: number) => void) | undefined;
  dragged: { edge: 'start' | 'end'; to: number } | undefined;
  now: number;
}) {
  return (
    <Row between base below={4}>
      <Row base>
        <Words as="h2">{dayOf(first, zone)}</Words>
        <Bit soft small>
          as it would go now: first {clockTime(first, zone)}, last{' '}
          {dayOf(last, zone) === dayOf(first, zone) ? '' : `${dayOf(last, zone)}, `}
          {clockTime(last, zone)}
        </Bit>
      </Row>
      {(moveStart ?? moveEnd) && (
        <Bit soft small wideOnly>
          {dragged
            ? `${dragged.edge === 'start' ? 'starts' : 'evenly until'} ${when(new Date(dragged.to).toISOString(), zone, now)}`
            : 'drag an edge to change the start or the end'}
        </Bit>
      )}
    </Row>
  );
}

/** What is drawn is what goes, and a third of that around it: two minutes are seen as two minutes, a day as a day. */
export function rangeOf(first: number, last: number): [number, number] {
  const around = Math.max(2 * MINUTE, (last - first) / 3);
  const whole = last - first > 2 * HOUR ? HOUR : MINUTE;
  return [Math.floor((first - around) / whole) * whole, Math.ceil((last + around) / whole) * whole];
}

/** Minutes between marks. */
const EVERY = [1, 2, 5, 10, 15, 30, ...[1, 2, 3, 6, 12, 24, 48, 96, 168].map((hours) => hours * 60)];
const DAYS_OF_A_MONTH = 30 * 24 * 60;

/** Where marks stand, instants: at most so many. */
export function ticksOf(from: number, to: number, zone: string, most: number): number[] {
  const minutesIn = (to - from) / MINUTE;
  const every = EVERY.find((each) => minutesIn / each <= most) ?? DAYS_OF_A_MONTH;
  const ticks: number[] = [];
  const apart = every < 60 ? MINUTE : HOUR;
  for (let at = Math.ceil(from / apart) * apart; at <= to; at += apart) {
    const { minutes } = wallClock(at, zone);
    // of an hour, of a day, of days: each mark is where a clock or a calendar has one
    const [of, n] = every < 60 ? [minutes % 60, every] : [Math.floor(minutes / 60), every / 60];
    if (n < 24 ? of % n === 0 : of === 0 && Math.round((at - from) / DAY) % (n / 24) === 0) ticks.push(at);
  }
  return ticks;
}

/** Quiet hours of a zone as they fall into a range, on our clock. */
function nights(zone: string, quietFrom: string, quietTo: string, from: number, to: number): [number, number][] {
  if (quietFrom === quietTo) return [];
  const found: [number, number][] = [];
  for (let at = from - DAY; at <= to + DAY; at += DAY) {
    const { date } = wallClock(at, zone);
    const next = new Date(Date.parse(date) + DAY).toISOString().slice(0, 10);
    const begins = localInstant(date, quietFrom, zone).instant;
    const ends = localInstant(quietTo > quietFrom ? date : next, quietTo, zone).instant;
    const [a, b] = [Math.max(begins, from), Math.min(ends, to)];
    if (a < b && !found.some(([known]) => known === a)) found.push([a, b]);
  }
  return found;
}

function timeSpan(first: string, last: string, zone: string): string {
  const [a, b] = [clockTime(first, zone), clockTime(last, zone)];
  const otherDay = dayOf(first, zone) !== dayOf(last, zone);
  return a === b && !otherDay ? a : `${a} to ${otherDay ? `${dayOf(last, zone)}, ` : ''}${b}`;
}
