import { describe, expect, test } from 'vitest';
import type { Committed, Effect, LeasedText } from './effects';
import { Line } from './line';

const SETTINGS = { window: 4, ahead: 12, postSize: 4, postWait: 400, lookEvery: 1000, siftEvery: 10_000 };
type Kind = Effect['do'];

/** A line and the effects it wanted, to be answered by hand. */
function line(texts = 3) {
  const machine = new Line<string>(SETTINGS);
  let now = 1000;
  const wanted: Effect<string>[] = [];
  const on = (event: Parameters<typeof machine.on>[0], wait = 0) => {
    now += wait;
    wanted.push(...machine.on(event, now));
  };
  const take = <K extends Kind>(kind: K): Extract<Effect<string>, { do: K }>[] => {
    const found = wanted.filter((each) => each.do === kind);
    for (const each of found) wanted.splice(wanted.indexOf(each), 1);
    return found as unknown as Extract<Effect<string>, { do: K }>[];
  };
  on({ is: 'tick' });
  on({ is: 'connected' });
  const [lease] = take('lease');
  const leased = () =>
    on({
      is: 'leased',
      rows: [{ row: 7, sender: 1, lane: 2, texts: Array.from({ length: texts }, (_, i) => ({ id: i + 1, due: 0, parts: 1 })) }],
      next: null,
    });
  const committed = (of: readonly LeasedText[], more: Partial<Committed> = {}) =>
    on({
      is: 'committed',
      commit: {
        at: now,
        journaled: of.length,
        intended: of.map((text) => ({ text: text.id, no: 1, reference: text.id * 16 + 1, until: now + 60_000 })),
        left: [...of],
        putBack: false,
        askAgain: new Map(),
        ...more,
      },
    });
  return { machine, on, take, lease, leased, committed, now: () => now };
}

describe('the line', () => {
  test('leases, commits, and only then writes', () => {
    const { lease, leased, take, committed } = line();
    expect(lease).toMatchObject({ parts: 12 });
    leased();
    const [commit] = take('commit');
    expect(commit.texts.map((text) => text.id)).toEqual([1, 2, 3]);
    expect(take('write')).toEqual([]);
    committed(commit.texts);
    expect(take('write').map((each) => each.part.text)).toEqual([1, 2, 3]);
  });

  test('many that wait are asked about once a second however often somebody pokes; a few each time', () => {
    const asked = (texts: number) => {
      const { leased, on, take, committed } = line(texts);
      on({ is: 'broken' });
      leased();
      const sifts: number[] = [];
      // what is leased is asked about with the first poke, and nobody is let go of
      for (let poke = 0; poke < 30; poke += 1) {
        on({ is: 'poke' }, 100);
        for (const commit of take('commit')) {
          sifts.push(commit.texts.length);
          committed([]);
        }
      }
      return sifts;
    };
    expect(asked(3)).toEqual(Array.from({ length: 30 }, () => 3));
    // as they came, and then in each of three seconds
    expect(asked(150)).toEqual([150, 150, 150, 150]);
  });

  test('what becomes due while a lease is being asked for is looked for at once, not at the next look', () => {
    const { on, take, lease } = line();
    expect(lease).toBeDefined();
    // a text is queued after the lease was asked for, and before it comes back without it
    on({ is: 'poke' });
    expect(take('lease')).toEqual([]);
    on({ is: 'leased', rows: [], next: null });
    expect(take('lease')).toHaveLength(1);
    // nothing has come meanwhile: now and then is enough
    on({ is: 'leased', rows: [], next: null });
    expect(take('lease')).toEqual([]);
    on({ is: 'tick' }, 1000);
    expect(take('lease')).toHaveLength(1);
    // also where the lease itself failed
    on({ is: 'poke' });
    on({ is: 'failed', what: 'lease' });
    on({ is: 'tick' }, 10_000);
    expect(take('lease')).toHaveLength(1);
  });

  test('a window is full until its answers are committed', () => {
    const { on, take, leased, committed } = line(8);
    leased();
    committed(take('commit')[0].texts.slice(0, 4));
    expect(take('write')).toHaveLength(4);
    expect(take('commit')).toEqual([]);
    for (const text of [1, 2, 3, 4]) on({ is: 'answered', answer: { text, no: 1, kind: 'accepted', messageId: `m${text}` } });
    const [next] = take('commit');
    expect(next.answers).toHaveLength(4);
    expect(next.texts.map((text) => text.id)).toEqual([5, 6, 7, 8]);
  });

  test('a commit that failed is named as void by the next, and its texts wait for a posting', () => {
    const { on, take, leased, committed } = line();
    leased();
    const [first] = take('commit');
    on({ is: 'failed', what: 'commit' });
    on({ is: 'tick' }, 600);
    const [second] = take('commit');
    expect(second).toMatchObject({ voided: [first.commit], texts: [] });
    committed([], { journaled: 1 });
    on({ is: 'tick' }, 500);
    expect(take('post')).toHaveLength(1);
    expect(take('commit')).toEqual([]);
    on({ is: 'posted', more: false, dropped: [], again: false });
    expect(take('commit')[0].texts.map((text) => text.id)).toEqual([1, 2, 3]);
  });

  test('after a lease that failed, rows that are ours and unknown are given back', () => {
    const { on, take } = line();
    on({ is: 'failed', what: 'lease' });
    on({ is: 'tick' }, 600);
    expect(take('lease')[0].known).toEqual([]);
  });

  test('receipts are acknowledged when they are kept, and refused when they are not', () => {
    const { on, take } = line();
    const receipt = { messageId: 'm1', reference: null, number: '+12075550142', state: 'DELIVRD' as const, error: '' };
    on({ is: 'receipt', receipt, handle: 'first' });
    expect(take('acknowledge')).toEqual([]);
    on({ is: 'tick' }, 100);
    expect(take('keep')).toHaveLength(1);
    on({ is: 'failed', what: 'keep' });
    expect(take('refuse')).toMatchObject([{ handles: ['first'] }]);
    on({ is: 'receipt', receipt, handle: 'second' }, 600);
    on({ is: 'tick' }, 100);
    on({ is: 'kept' });
    expect(take('acknowledge')).toMatchObject([{ handles: ['second'] }]);
  });

  test('what the machine slept over between commit and write is not written', () => {
    const { on, take, leased, now } = line(1);
    leased();
    const [commit] = take('commit');
    const at = now();
    on({ is: 'tick' }, 60_000);
    on({
      is: 'committed',
      commit: {
        at,
        journaled: 1,
        intended: [{ text: 1, no: 1, reference: 17, until: at + 3_600_000 }],
        left: [...commit.texts],
        putBack: false,
        askAgain: new Map(),
      },
    });
    expect(take('write')).toEqual([]);
    on({ is: 'tick' }, 100);
    expect(take('commit')[0].answers).toEqual([{ text: 1, no: 1, kind: 'unwritten' }]);
  });

  test('whoever is taken over does nothing more', () => {
    const { on, take, leased } = line();
    leased();
    take('commit');
    on({ is: 'fenced' });
    on({ is: 'tick' }, 5000);
    expect([...take('commit'), ...take('lease'), ...take('post'), ...take('write')]).toEqual([]);
  });

  test('a carrier that lets nothing through opens the circuit, and one part closes it', () => {
    const { machine, on, take, leased, committed } = line(1);
    leased();
    committed(take('commit')[0].texts);
    for (let i = 0; i < 5; i += 1) on({ is: 'answered', answer: { text: 1, no: 1, kind: 'again', reason: 'throttled' } }, 70_000);
    expect(machine.circuit?.reason).toBe('throttled');
    on({ is: 'answered', answer: { text: 1, no: 1, kind: 'accepted', messageId: 'm' } });
    expect(machine.circuit).toBeUndefined();
  });

  test('closing takes nothing new, and is quiet once everything is written down', () => {
    const { machine, on, take, leased, committed } = line(8);
    leased();
    committed(take('commit')[0].texts.slice(0, 4));
    on({ is: 'close' });
    for (const text of [1, 2, 3, 4]) on({ is: 'answered', answer: { text, no: 1, kind: 'accepted', messageId: `m${text}` } });
    const [last] = take('commit');
    expect(last.texts).toEqual([]);
    expect(machine.quiet).toBe(false);
    committed([], { journaled: 4 });
    on({ is: 'tick' }, 500);
    expect(take('post').length).toBeGreaterThan(0);
    on({ is: 'posted', more: false, dropped: [], again: false });
    on({ is: 'tick' }, 500);
    on({ is: 'posted', more: false, dropped: [], again: false });
    expect(machine.quiet).toBe(true);
  });
});
