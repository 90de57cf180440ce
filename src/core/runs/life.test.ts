import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { TOO_LATE } from '../gate/gate';
import { LAST_WORD_WITHIN, moveOf, type Open, type Run, type RunEvent, type RunMove } from './life';

const HOUR = 3_600_000;
const MINUTE = 60_000;
const LIMIT = 30 * MINUTE;
/** Due at ten, of use until six in the evening; the day begins at 0. */
const TEN = 10 * HOUR;
const run = (part: Partial<Run> = {}): Run => ({
  state: 'waiting',
  origin: 'press',
  calledOff: false,
  endedAt: null,
  asks: null,
  dueAt: TEN,
  lastDueAt: TEN,
  takebackUntil: 9 * HOUR,
  notAfter: 18 * HOUR,
  note: '',
  own: false,
  ...part,
});
const none: Open = { texts: 0, queued: 0, lostAt: null };
const toStart: RunEvent = { is: 'time to start', lateLimit: LIMIT };
const toEnd = (open: Partial<Open> = {}): RunEvent => ({ is: 'time to end', open: { ...none, ...open } });

describe('the start of a run', () => {
  test('at its moment, and not before its seconds to take it back are over', () => {
    expect(moveOf(run(), toStart, TEN - 1)).toEqual({ to: {}, works: [{ kind: 'start run', at: TEN }] });
    expect(moveOf(run(), toStart, TEN).to).toMatchObject({ state: 'sending', startedAt: TEN });
    expect(moveOf(run({ takebackUntil: TEN + 8000 }), toStart, TEN)).toMatchObject({ to: {}, works: [{ at: TEN + 8000 }] });
  });
  test('so much late and no more; past its use it is missed however late it may be', () => {
    expect(moveOf(run(), toStart, TEN + LIMIT).to.state).toBe('sending');
    expect(moveOf(run(), toStart, TEN + LIMIT + 1).to).toEqual({
      state: 'missed',
      note: 'The server could not start it in time: 30 minutes late. Nothing was sent.',
    });
    expect(moveOf(run({ notAfter: TEN + 5 }), toStart, TEN + 6).to.state).toBe('missed');
  });
  test('how late it was is said as one would say it', () => {
    const late = (ms: number) =>
      moveOf(run({ notAfter: Infinity }), { is: 'time to start', lateLimit: 30 * MINUTE }, TEN + ms).to.note;
    expect(late(119 * MINUTE)).toContain(': 119 minutes late.');
    expect(late(216 * MINUTE)).toContain(': 4 hours late.');
  });
  test('what waits for a person waits as long as it may be late, and no longer', () => {
    const asking = run({ asks: '4 people instead of 3' });
    expect(moveOf(asking, toStart, TEN)).toEqual({ to: {}, works: [{ kind: 'start run', at: TEN + LIMIT + 1 }] });
    expect(moveOf(asking, toStart, TEN + LIMIT + 1).to.note).toMatch(/^Nobody agreed to it in time \(4 people instead of 3\)/);
    expect(moveOf(asking, { is: 'agreed' }, TEN)).toEqual({ to: { asks: null }, works: [{ kind: 'start run', at: TEN }] });
  });
  test('in each one’s own time only those are late whose hour is past', () => {
    const own = run({ own: true, lastDueAt: TEN + 6 * HOUR, notAfter: TEN + 30 * HOUR });
    expect(moveOf(own, toStart, TEN + 2 * HOUR)).toMatchObject({
      to: { state: 'sending' },
      dropDueBefore: TEN + 2 * HOUR - LIMIT,
    });
    expect(moveOf(own, toStart, TEN + 10 * MINUTE).dropDueBefore).toBeUndefined();
    expect(moveOf(own, toStart, TEN + 7 * HOUR).to.state).toBe('missed');
  });
});

describe('calling a run off', () => {
  test('until it has started, once; its money returns, and it is cleared away', () => {
    for (const state of ['planning', 'waiting'] as const)
      expect(moveOf(run({ state }), { is: 'call off', as: 'draft' }, TEN)).toMatchObject({
        to: { state: 'stopped', calledOff: true, endedAt: TEN },
        works: [{ kind: 'clear run', at: TEN }],
        release: true,
        broadcast: 'draft',
      });
    for (const state of ['sending', 'paused', 'finished', 'missed', 'stopped'] as const)
      expect(moveOf(run({ state }), { is: 'call off', as: 'draft' }, TEN)).toEqual({ to: {}, works: [], refused: state });
    const off = run({ state: 'stopped', calledOff: true, endedAt: TEN });
    expect(moveOf(off, { is: 'call off', as: 'undone' }, TEN).refused).toBe('called off');
    expect(moveOf(off, { is: 'stored', takeback: TEN, atOnce: true }, TEN).refused).toBe('called off');
  });
});

describe('the end of a run', () => {
  const sending = run({ state: 'sending' });
  test('settled when every part has its word, and none may be handed over once more', () => {
    expect(moveOf(sending, toEnd({ texts: 2, queued: 1 }), TEN)).toEqual({ to: {}, works: [{ kind: 'end run', at: 18 * HOUR }] });
    // a carrier that accepts without an id: the part may still be asked about, and go again
    expect(moveOf(sending, toEnd({ lostAt: TEN }), TEN + 1)).toEqual({
      to: {},
      works: [{ kind: 'end run', at: TEN + LAST_WORD_WITHIN }],
    });
    expect(moveOf(sending, toEnd(), TEN + 1)).toEqual({
      to: { state: 'finished', endedAt: TEN + 1 },
      works: [],
      settle: true,
    });
    expect(moveOf(sending, toEnd({ lostAt: TEN }), TEN + LAST_WORD_WITHIN).settle).toBe(true);
  });
  test('what is left of one of which nothing goes becomes not sent, with its reason; what a line has in hand is waited for', () => {
    expect(moveOf(sending, toEnd({ texts: 3, queued: 2 }), 18 * HOUR)).toMatchObject({ sweep: TOO_LATE });
    const stopped = run({ state: 'stopped', note: 'canceled by Ana' });
    expect(moveOf(stopped, toEnd({ texts: 3, queued: 2 }), TEN)).toEqual({
      to: {},
      works: [{ kind: 'end run', at: TEN + 1000 }],
      sweep: 'canceled by Ana',
    });
    // two last words may come in the same moment, and each see the other as open
    const soon = { to: {}, works: [{ kind: 'end run', at: TEN + 5000 }] };
    expect(moveOf(stopped, toEnd({ texts: 1 }), TEN)).toEqual(soon);
    expect(moveOf(sending, toEnd({ texts: 1 }), TEN)).toEqual(soon);
    expect(moveOf(stopped, toEnd(), TEN).to).toEqual({ endedAt: TEN });
  });
  test('paused past its use it is stopped, and keeps neither texts nor money', () => {
    const paused = run({ state: 'paused' });
    expect(moveOf(paused, toEnd({ texts: 3, queued: 2 }), 17 * HOUR)).toEqual({
      to: {},
      works: [{ kind: 'end run', at: 18 * HOUR }],
    });
    expect(moveOf(paused, toEnd({ texts: 3, queued: 2 }), 18 * HOUR)).toMatchObject({
      to: { state: 'stopped', note: 'of no more use by then, while it was paused' },
      works: [{ kind: 'end run' }],
    });
  });
});

/** Plays a run with its own jobs until nothing is due, or something is wrong. */
function live(first: Run, events: readonly { at: number; event: RunEvent }[], opens: (run: Run, now: number) => Open) {
  let now = 0;
  let one = first;
  const due = new Map<string, number>([['start run', first.dueAt]]);
  const moves: { at: number; move: RunMove }[] = [];
  const happen = (event: RunEvent) => {
    const move = moveOf(one, event, now);
    one = { ...one, ...move.to };
    moves.push({ at: now, move });
    for (const { kind, at } of move.works) due.set(kind, Math.min(due.get(kind) ?? Infinity, at));
  };
  const waiting = [...events];
  for (let step = 0; step < 500; step += 1) {
    const job = [...due]
      .filter(([kind]) => kind !== 'watch' && kind !== 'clear run')
      .sort(([, a], [, b]) => a - b)
      .at(0);
    const next = waiting.at(0);
    if (next && (!job || next.at <= job[1])) {
      waiting.shift();
      now = Math.max(now, next.at);
      happen(next.event);
    } else if (job) {
      due.delete(job[0]);
      now = Math.max(now, job[1]);
      happen(job[0] === 'start run' ? toStart : { is: 'time to end', open: opens(one, now) });
    } else return { run: one, moves, now, restless: false };
  }
  return { run: one, moves, now, restless: true };
}

test('whatever is done to it, a run comes to its end by its own work, settled once or called off once, and never both (fast-check)', () => {
  const event = fc.oneof(
    fc.constantFrom<RunEvent>({ is: 'pause' }, { is: 'resume' }, { is: 'cancel rest', by: 'Ana' }, { is: 'agreed' }),
    fc.constantFrom<RunEvent>({ is: 'call off', as: 'draft' }, { is: 'call off', as: 'skipped' }),
  );
  const given = fc.record({
    asks: fc.constantFrom(null, 'differs'),
    own: fc.boolean(),
    span: fc.integer({ min: 0, max: 8 * HOUR }),
    events: fc.array(fc.record({ at: fc.integer({ min: 0, max: 40 * HOUR }), event }), { maxLength: 8 }),
    lost: fc.boolean(),
  });
  fc.assert(
    fc.property(given, ({ asks, own, span, events, lost }) => {
      const first = run({ asks, own, lastDueAt: TEN + span, notAfter: TEN + span + 4 * HOUR });
      const sorted = events.sort((a, b) => a.at - b.at);
      // what goes is gone at its last due time; of one that is over, a line gives back what it had
      const opens = (one: Run, now: number): Open => {
        const going = one.state === 'sending' || one.state === 'paused';
        const left = going && (one.state === 'paused' || now < one.lastDueAt + MINUTE) && now < one.notAfter + MINUTE;
        return { texts: left ? 1 : 0, queued: left ? 1 : 0, lostAt: lost ? one.lastDueAt : null };
      };
      const {
        run: last,
        moves,
        restless,
      } = live(first, sorted, (one, now) => {
        // the counters wake it when the last text of one that is not over has its word
        const open = opens(one, now);
        return open;
      });
      expect(restless).toBe(false);
      const settled = moves.filter(({ move }) => move.settle).length;
      const off = moves.filter(({ move }) => move.release).length;
      expect(settled + off).toBe(1);
      expect(last.endedAt).not.toBeNull();
      // nothing moves what has ended
      for (const each of [toStart, toEnd(), { is: 'pause' }, { is: 'resume' }, { is: 'call off', as: 'draft' }] as RunEvent[])
        expect(moveOf(last, each, last.notAfter + HOUR).to).toEqual({});
    }),
    { numRuns: 500 },
  );
});
