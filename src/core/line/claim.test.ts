import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Hours } from '../gate/hours';
import { SIM_HOURS } from './simulator/store';
import { decideClaim, referencesOf, type ClaimText } from './claim';
import { freeAfter, nextFree, partsFree } from './sender-rate';

const text = (
  id: number,
  part: Partial<ClaimText> & { run?: 'sending' | 'paused' | 'stopped'; registered?: boolean } = {},
): ClaimText => ({
  id,
  sender: part.sender ?? 1,
  due: part.due ?? 0,
  todo: part.todo ?? [1],
  facts: {
    kind: 'run',
    purpose: 'service',
    registered: part.registered ?? false,
    person: 'here',
    consent: null,
    needsYes: false,
    mustNot: false,
    undecided: null,
    number: true,
    minor: false,
    notAfter: 1_000_000,
    run: { state: part.run ?? 'sending', note: part.run === 'stopped' ? 'canceled' : '' },
    hours: { zones: ['near'], quiet: { from: '', to: '' }, own: null, allowed: null },
    day: null,
    override: false,
    asked: false,
  },
});
const claim = (texts: ClaimText[], more: { now?: number; room?: number; rate?: number; freeAt?: number; book?: Hours } = {}) =>
  decideClaim({
    now: more.now ?? 1000,
    texts,
    room: more.room ?? 10,
    lines: new Map([1, 2].map((sender) => [sender, { rate: more.rate ?? 100, freeAt: more.freeAt ?? 0 }])),
    book: more.book ?? SIM_HOURS,
  });
const ids = (texts: readonly { text: ClaimText }[]) => texts.map((each) => each.text.id);

describe('a claim', () => {
  test('asks the gate for each, and takes what may go in its order', () => {
    const claimed = claim([
      text(1),
      text(2, { registered: true }),
      text(3, { run: 'paused' }),
      text(4, { run: 'stopped' }),
      text(5),
    ]);
    expect(ids(claimed.go)).toEqual([1, 5]);
    expect(claimed.never.map(({ text: each, reason }) => [each.id, reason])).toEqual([
      [2, 'opted out'],
      [4, 'canceled'],
    ]);
    expect(claimed.hold.map((each) => each.id)).toEqual([3]);
  });

  test('in quiet hours nothing goes, and each is told its next moment', () => {
    // the simulator's day has 100 s; its last 30 are quiet
    const claimed = claim([text(1)], { now: 80_000 });
    expect(claimed.go).toEqual([]);
    expect(claimed.later).toMatchObject([{ at: 100_000 }]);
  });

  test('a text of several parts goes whole or waits, and nothing of the same window overtakes it', () => {
    const claimed = claim([text(1), text(2, { todo: [1, 2, 3] }), text(3)], { room: 3 });
    expect(ids(claimed.go)).toEqual([1]);
    expect(claimed.kept.map((each) => each.id)).toEqual([2, 3]);
  });

  test('a sender out of rate waits by itself; another goes on', () => {
    const claimed = claim([text(1), text(2), text(3, { sender: 2 })], { rate: 1 });
    expect(ids(claimed.go)).toEqual([1, 3]);
    expect(claimed.kept.map((each) => each.id)).toEqual([2]);
    expect(claimed.askAgain.get(1)).toBe(2000);
  });

  test('without room it only sorts out who may not go', () => {
    const claimed = claim([text(1), text(2, { registered: true })], { room: 0 });
    expect(claimed.go).toEqual([]);
    expect(ids(claimed.never)).toEqual([2]);
  });

  test('what is not due yet is kept, but let go of when it may never go', () => {
    const claimed = claim([text(1, { due: 5000 }), text(2, { due: 5000, registered: true })]);
    expect(claimed.kept.map((each) => each.id)).toEqual([1]);
    expect(ids(claimed.never)).toEqual([2]);
  });

  test('every text is in exactly one place (property)', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            run: fc.constantFrom('sending' as const, 'paused' as const, 'stopped' as const),
            registered: fc.boolean(),
            due: fc.integer({ min: 0, max: 3000 }),
            sender: fc.constantFrom(1, 2),
            parts: fc.integer({ min: 1, max: 4 }),
          }),
          { maxLength: 12 },
        ),
        fc.integer({ min: 0, max: 8 }),
        fc.integer({ min: 1, max: 50 }),
        (all, room, rate) => {
          const texts = all.map(({ parts, ...part }, i) =>
            text(i, { ...part, todo: Array.from({ length: parts }, (_, no) => no + 1) }),
          );
          const { go, later, hold, never, kept } = claim(texts, { room, rate });
          const places = [
            ...ids(go),
            ...ids(later),
            ...hold.map((each) => each.id),
            ...ids(never),
            ...kept.map((each) => each.id),
          ];
          expect(places.sort((a, b) => a - b)).toEqual(texts.map((each) => each.id));
          expect(go.reduce((sum, each) => sum + each.text.todo.length, 0)).toBeLessThanOrEqual(room);
        },
      ),
    );
  });
});

describe('references', () => {
  test('are 16 bits, differ between neighbors, and the other block is another', () => {
    fc.assert(
      fc.property(fc.nat({ max: 2 ** 40 }), fc.boolean(), (id, taken) => {
        const own = referencesOf(id, [1, 2, 3], taken);
        expect(own.every((each) => each > 0 && each < 65_536)).toBe(true);
        const others = [...referencesOf(id + 1, [1, 2, 3], taken), ...referencesOf(id, [1, 2, 3], !taken)];
        expect(own.filter((each) => others.includes(each))).toEqual([]);
      }),
    );
  });
});

describe('the rate of a line (ITU-T I.371 annex A, generic cell rate)', () => {
  test('over any stretch never more than the rate and its slack of a quarter of a second (property)', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 200 }),
        fc.array(fc.integer({ min: 0, max: 700 }), { minLength: 1, maxLength: 60 }),
        (rate, naps) => {
          let [now, freeAt, gone] = [10_000, 0, 0];
          for (const nap of naps) {
            now += nap;
            const parts = Math.max(0, partsFree(freeAt, rate, now));
            if (parts > 0) freeAt = freeAfter(freeAt, rate, now, parts);
            gone += parts;
            expect(gone).toBeLessThanOrEqual(((now - 10_000 + 250) * rate) / 1000 + 1);
            // when it says to ask again, there is something to be had soon
            const again = nextFree(freeAt, rate, now);
            expect(again).toBeGreaterThan(now);
            expect(partsFree(freeAt, rate, Math.max(again, freeAt))).toBeGreaterThan(0);
          }
        },
      ),
    );
  });
});
