import { LONGEST_VALIDITY, TOO_LATE } from '../gate/gate';
import type { RunState } from '../outcome/states';

/**
 * The life of a run, as a machine without I/O: pressed and being stored, waiting, sending, paused, settling, settled; or stopped, missed,
 * called off. The server carries out what it wants (`server/engine/runs`), the simulator plays it.
 */

/** What brings a run about. */
export type RunOrigin = 'press' | 'repeat' | 'import' | 'current';

/** An hour after its validity nothing more is heard of a text, ms. */
export const LAST_WORD_WITHIN = LONGEST_VALIDITY + 3_600_000;

/** Everything of a run that decides what becomes of it. Instants in ms; `endedAt` is that of a run that is settled: nothing is to come. */
export interface Run {
  state: RunState;
  origin: RunOrigin;
  calledOff: boolean;
  endedAt: number | null;
  /** Why it waits for a person. */
  asks: string | null;
  dueAt: number;
  /** The due time of its last text. */
  lastDueAt: number;
  takebackUntil: number;
  notAfter: number;
  note: string;
  /** In each recipient's own time: it may begin where its first hour has passed and later ones have not. */
  own: boolean;
}

/** What of its texts is not at its end. */
export interface Open {
  /** Texts with a part that has not gone, or has no answer yet. */
  texts: number;
  /** In rows of the queue. */
  queued: number;
  /** When the last part was written whose answer was lost and may still be found out about; null where there is none. */
  lostAt: number | null;
}

/** What a broadcast becomes with a run that is called off; `undone`: by us, not by anybody. */
export type CalledOffAs = 'draft' | 'set_aside' | 'canceled' | 'skipped' | 'undone';

export type RunEvent =
  /** Every text of it is there; the seconds to take it back begin. */
  | { is: 'stored'; takeback: number; atOnce: boolean }
  | { is: 'call off'; as: CalledOffAs }
  | { is: 'agreed' }
  | { is: 'pause' }
  | { is: 'resume' }
  | { is: 'cancel rest'; by: string }
  /** Its moment may have come. */
  | { is: 'time to start'; lateLimit: number }
  /** It may have come to its end. */
  | { is: 'time to end'; open: Open };

/** Work that is made due in the transaction of the move. */
export interface RunWork {
  kind: 'start run' | 'end run' | 'clear run' | 'watch';
  at: number;
}

export interface RunMove {
  /** What of the row changes; nothing where the event changes nothing. */
  to: Partial<Pick<Run, 'state' | 'calledOff' | 'endedAt' | 'asks' | 'dueAt' | 'takebackUntil' | 'note'>> & {
    startedAt?: number;
  };
  works: RunWork[];
  /** The event came too late, or it is not of this state: what the state is. */
  refused?: RunState | 'called off';
  /** The money that is held returns, as if it had never been pressed. */
  release?: boolean;
  /** What its broadcast becomes. */
  broadcast?: CalledOffAs;
  /** Nothing more of it goes but what is on its way: what is left becomes not sent, with this reason. */
  sweep?: string;
  /** What was due before this moment is too late now, and not sent. */
  dropDueBefore?: number;
  /** It is settled: paid for, its codes returned, its broadcast looked at. */
  settle?: boolean;
}

const MINUTE = 60_000;
/** How soon what a line still has in hand is looked at again, ms. */
const AGAIN = 1000;
const lateWords = (ms: number) =>
  ms < 2 * 3_600_000 ? `${Math.round(ms / MINUTE)} minutes late` : `${Math.round(ms / 3_600_000)} hours late`;
/** So long the last parts that a line has in hand are left to it, before they are asked about again, ms. */
const LAST_FEW = 5000;

/** What an event does to a run at a moment (ms). Deterministic; changes nothing itself. */
export function moveOf(run: Run, event: RunEvent, now: number): RunMove {
  switch (event.is) {
    case 'stored':
      return stored(run, event);
    case 'call off':
      return callOff(run, event.as, now);
    case 'agreed':
      if (run.state !== 'waiting' || run.asks === null) return refused(run);
      return { to: { asks: null }, works: [{ kind: 'start run', at: now }] };
    case 'pause':
      return run.state === 'sending' && run.endedAt === null ? { to: { state: 'paused' }, works: endAt(run, now) } : refused(run);
    case 'resume':
      return run.state === 'paused' && run.endedAt === null
        ? {
            to: { state: 'sending' },
            works: [
              { kind: 'watch', at: now },
              { kind: 'end run', at: now },
            ],
          }
        : refused(run);
    case 'cancel rest':
      if ((run.state !== 'sending' && run.state !== 'paused') || run.endedAt !== null) return refused(run);
      return { to: { state: 'stopped', note: `canceled by ${event.by}` }, works: [{ kind: 'end run', at: now }] };
    case 'time to start':
      return start(run, event.lateLimit, now);
    case 'time to end':
      return end(run, event.open, now);
  }
}

const nothing = (): RunMove => ({ to: {}, works: [] });
const refused = (run: Run): RunMove => ({ ...nothing(), refused: run.calledOff ? 'called off' : run.state });
/** It is looked at when it is of no more use. */
const endAt = (run: Run, now: number): RunWork[] => [{ kind: 'end run', at: Math.max(now, run.notAfter) }];

function stored(run: Run, { takeback, atOnce }: { takeback: number; atOnce: boolean }): RunMove {
  if (run.state !== 'planning' || run.calledOff) return refused(run);
  const dueAt = atOnce ? Math.max(run.dueAt, takeback) : run.dueAt;
  return {
    to: { state: 'waiting', takebackUntil: takeback, dueAt },
    works: [{ kind: 'start run', at: Math.max(dueAt, takeback) }],
  };
}

function callOff(run: Run, as: CalledOffAs, now: number): RunMove {
  if (run.calledOff || (run.state !== 'planning' && run.state !== 'waiting')) return refused(run);
  return {
    to: { state: 'stopped', calledOff: true, endedAt: now, note: 'called off' },
    works: [{ kind: 'clear run', at: now }],
    release: true,
    broadcast: as,
  };
}

/**
 * A run starts at its moment, at most so much late; whether its moment has come is asked here, and by nobody else. What waits for a
 * person waits as long as it may be late.
 */
function start(run: Run, lateLimit: number, now: number): RunMove {
  if (run.state !== 'waiting' || run.calledOff) return nothing();
  const from = Math.max(run.dueAt, run.takebackUntil);
  if (now < from) return { to: {}, works: [{ kind: 'start run', at: from }] };
  const late = now - run.dueAt;
  // in each one's own time only those whose hour is past are late
  const all = run.own ? now - run.lastDueAt : late;
  const missed = now >= run.notAfter ? 'past its no use after' : all > lateLimit ? lateWords(late) : null;
  if (missed !== null) {
    const why = run.asks === null ? 'The server could not start it in time' : `Nobody agreed to it in time (${run.asks})`;
    return { to: { state: 'missed', note: `${why}: ${missed}. Nothing was sent.` }, works: [{ kind: 'end run', at: now }] };
  }
  if (run.asks !== null) {
    const until = Math.min(run.notAfter, (run.own ? run.lastDueAt : run.dueAt) + lateLimit + 1);
    return { to: {}, works: [{ kind: 'start run', at: until }] };
  }
  return {
    to: { state: 'sending', startedAt: now },
    works: [
      { kind: 'watch', at: now },
      { kind: 'end run', at: now },
    ],
    ...(run.own && late > lateLimit ? { dropDueBefore: now - lateLimit } : {}),
  };
}

/**
 * Ends a run of which nothing is to come any more. What is left of one of which nothing goes (stopped, missed, past its use) becomes not
 * sent; what a line has in hand is left to it. Settled it is when every part has its word, and none may be handed over again.
 */
function end(run: Run, open: Open, now: number): RunMove {
  if (run.calledOff || run.endedAt !== null || run.state === 'planning' || run.state === 'waiting') return nothing();
  const past = now >= run.notAfter;
  // nothing of it may be asked of the line while it is paused: past its use it is stopped, so that the line may say so of the rest
  if (run.state === 'paused' && past)
    return { to: { state: 'stopped', note: `${TOO_LATE}, while it was paused` }, works: [{ kind: 'end run', at: now }] };
  const over = run.state === 'stopped' || run.state === 'missed' || past;
  if (over && open.queued > 0)
    return {
      to: {},
      works: [{ kind: 'end run', at: now + AGAIN }],
      sweep: run.state === 'sending' ? TOO_LATE : run.note || 'canceled',
    };
  // its counters make this due when the last of them has its word; of two that come to theirs in the same moment each may see the other's
  // as open, so that the last few are looked at once more
  if (open.texts > 0)
    return { to: {}, works: open.queued === 0 ? [{ kind: 'end run', at: now + LAST_FEW }] : over ? [] : endAt(run, now) };
  // such a part may yet be handed over once more, or be heard of
  const doubt = open.lostAt === null ? 0 : open.lostAt + LAST_WORD_WITHIN;
  if (doubt > now) return { to: {}, works: [{ kind: 'end run', at: doubt }] };
  return {
    to: { endedAt: now, ...(run.state === 'sending' || run.state === 'paused' ? { state: 'finished' as const } : {}) },
    works: [],
    settle: true,
  };
}
