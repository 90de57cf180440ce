import { describe, expect, test } from 'vitest';
import { askAt } from './look-up';
import { SETTLED } from './unanswered';
import type { Entry } from './entries';
import { Posting, wants, type PostedPart, type PostedText } from './posting';

const NUMBER = '+12075550142';
const text = (part: Partial<PostedText> = {}): PostedText => ({
  id: 1,
  number: NUMBER,
  parts: 1,
  state: 'planned',
  reason: null,
  handedAt: null,
  finalAt: null,
  queued: true,
  ...part,
});
const intent = (...nos: number[]): Entry => ({
  kind: 'intent',
  at: 1000,
  commit: 1,
  parts: nos.map((no) => ({ text: 1, no, reference: 16 + no })),
});
const accepted = (no: number, messageId = `m${no}`): Entry => ({
  kind: 'answers',
  at: 1100,
  answers: [{ text: 1, no, kind: 'accepted', messageId }],
});
const again = (no: number): Entry => ({
  kind: 'answers',
  at: 1100,
  answers: [{ text: 1, no, kind: 'again', reason: 'throttled' }],
});
const receipt = (messageId: string, state: 'DELIVRD' | 'UNDELIV' | 'ENROUTE', reference: number | null = null): Entry => ({
  kind: 'receipts',
  at: 1200,
  receipts: [{ messageId, reference, number: NUMBER, state, error: '001' }],
});

function post(entries: Entry[], texts = [text()], parts: PostedPart[] = []) {
  const one = new Posting(texts, parts);
  for (const entry of entries) one.take(entry);
  return one.finish();
}
/** Posts entry by entry, each posting standing on what the one before has stored. */
function inTurns(entries: Entry[], first = text()) {
  let texts = [first];
  const parts = new Map<number, PostedPart>();
  let last = post([], texts);
  for (const entry of entries) {
    last = post(
      [entry],
      texts,
      [...parts.values()].map((part) => ({ ...part })),
    );
    for (const part of [...last.fresh, ...last.changed]) parts.set(part.no, part);
    texts = last.texts.length > 0 ? last.texts : texts;
    if (last.again.length > 0) texts = [{ ...texts[0], queued: true }];
  }
  return { last, text: texts[0], parts };
}

describe('the posting', () => {
  test('from intent to delivered, in one posting or in many', () => {
    const entries = [intent(1), accepted(1), receipt('m1', 'DELIVRD')];
    const [once] = post(entries).texts;
    expect(once).toMatchObject({ state: 'delivered', billed: 1, open: 0, handedAt: 1000, finalAt: 1200, queued: false });
    expect(inTurns(entries).text).toEqual(once);
  });

  test('a receipt that overtakes its acceptance is parked, and applied when the id is known', () => {
    const early = post([intent(1), receipt('m1', 'DELIVRD')]);
    expect(early.parked).toMatchObject([{ why: 'unknown', receipt: { messageId: 'm1' } }]);
    expect(early.texts).toMatchObject([{ state: 'handing_over' }]);
    expect(post([intent(1), receipt('m1', 'DELIVRD'), accepted(1)]).texts).toMatchObject([{ state: 'delivered' }]);
  });

  test('a receipt finds the one open part of its number by reference; of two it takes none', () => {
    expect(post([intent(1), receipt('x', 'DELIVRD', 17)]).texts).toMatchObject([{ state: 'delivered', billed: 1 }]);
    const both: Entry = { ...intent(1, 2), parts: [1, 2].map((no) => ({ text: 1, no, reference: 17 })) } as Entry;
    expect(post([both, receipt('x', 'DELIVRD', 17)], [text({ parts: 2 })]).parked).toHaveLength(1);
  });

  test('final states do not go back', () => {
    const { texts } = post([intent(1), accepted(1), receipt('m1', 'DELIVRD'), receipt('m1', 'UNDELIV')]);
    expect(texts).toMatchObject([{ state: 'delivered' }]);
    expect(post([intent(1), accepted(1), receipt('m1', 'DELIVRD'), receipt('m1', 'ENROUTE')]).texts).toMatchObject([
      { state: 'delivered' },
    ]);
  });

  test('what is throttled goes back with a delay, once nothing of its text is on its way', () => {
    expect(post([intent(1), again(1)]).again).toEqual([{ text: 1, at: expect.any(Number) }]);
    expect(post([intent(1), again(1)]).again[0].at).toBeGreaterThan(1100);
    const two = text({ parts: 2 });
    expect(post([intent(1, 2), again(1)], [{ ...two }]).again).toEqual([]);
    expect(post([intent(1, 2), again(1), accepted(2)], [{ ...two }]).again).toHaveLength(1);
    expect(inTurns([intent(1, 2), again(1), accepted(2)], { ...two }).last.again).toHaveLength(1);
  });

  test('a text that is queued, or intended by another whose journal is not posted, gets no second row', () => {
    const lost: PostedPart[] = [1, 2].map((no) => ({
      text: 1,
      no,
      number: NUMBER,
      state: no === 1 ? ('planned' as const) : ('uncertain' as const),
      reference: 16 + no,
      messageId: null,
      reason: null,
      attempts: 1,
      writtenAt: 1000,
      handedAt: 1000,
      acceptedAt: null,
      finalAt: null,
    }));
    const never: Entry = { kind: 'resolved', at: 1300, parts: [{ text: 1, no: 2, kind: 'never', again: true }] };
    const { again: queued, changed } = post(
      [never],
      [text({ parts: 2, queued: true })],
      lost.map((part) => ({ ...part })),
    );
    expect(changed).toMatchObject([{ no: 2, state: 'planned' }]);
    expect(queued).toEqual([]);
    expect(post([never], [text({ parts: 2, queued: false })], lost).again).toEqual([{ text: 1, at: 1300 }]);
  });

  test('what is said of one try says nothing of a later one; how long nothing can be on its way counts from when its answer was lost', () => {
    const lost: PostedPart = {
      text: 1,
      no: 1,
      number: NUMBER,
      state: 'uncertain',
      reference: 17,
      messageId: null,
      reason: null,
      attempts: 2,
      writtenAt: 1000,
      handedAt: 1000,
      acceptedAt: null,
      finalAt: null,
    };
    const never = (attempt: number): Entry => ({
      kind: 'resolved',
      at: 1300,
      parts: [{ text: 1, no: 1, kind: 'never', again: true, attempt }],
    });
    expect(post([never(1)], [text({ queued: false })], [{ ...lost }]).again).toEqual([]);
    expect(post([never(2)], [text({ queued: false })], [{ ...lost }]).again).toEqual([{ text: 1, at: 1300 }]);
    // between intent and write the process slept: it is lost now, and not when it was intended
    const answers: Entry = { kind: 'answers', at: 9000, answers: [{ text: 1, no: 1, kind: 'lost', reason: 'the line broke' }] };
    const { changed, texts } = post([answers], [text({ queued: false })], [{ ...lost, state: 'handing_over' }]);
    expect(changed).toMatchObject([{ state: 'uncertain', writtenAt: 9000 }]);
    // how long it took counts from the hand-over all the same
    expect(texts).toMatchObject([{ handedAt: 1000 }]);
    expect(askAt({ ...lost, writtenAt: 9000 }, 9000)).toBe(9000 + SETTLED);
  });

  test('a text dropped while a part of it comes back does not go again, and says why', () => {
    const dropped: Entry = { kind: 'dropped', at: 1050, texts: [{ text: 1, reason: 'opted out' }] };
    const { again: back, texts } = post([intent(1), dropped, again(1)]);
    expect(back).toEqual([]);
    expect(texts).toMatchObject([{ state: 'not_sent', reason: 'opted out', open: 0, billed: 0 }]);
  });

  test('of an owner that is gone, what has no answer is uncertain and may have cost', () => {
    const one = new Posting([text()], []);
    one.take(intent(1));
    one.interrupted([{ text: 1, no: 1 }], 5000);
    const { texts } = one.finish();
    expect(texts).toMatchObject([
      { state: 'uncertain', billed: 1, open: 0, reason: 'the server stopped before the carrier answered' },
    ]);
  });

  test('a message id that the carrier gives twice: both are taken, the second is known by its reference only', () => {
    const { texts, fresh } = post([intent(1, 2), accepted(1, 'same'), accepted(2, 'same')], [text({ parts: 2 })]);
    expect(texts).toMatchObject([{ state: 'with_carrier', open: 0, billed: 2 }]);
    expect(fresh.map((part) => part.messageId)).toEqual(['same', null]);
    const all = [
      intent(1, 2),
      accepted(1, 'same'),
      accepted(2, 'same'),
      receipt('same', 'DELIVRD'),
      receipt('else', 'DELIVRD', 18),
    ];
    expect(post(all, [text({ parts: 2 })]).texts).toMatchObject([{ state: 'delivered' }]);
  });

  test('an id found by asking, which another part has, proves nothing', () => {
    const taken: Entry = { kind: 'resolved', at: 1300, parts: [{ text: 1, no: 2, kind: 'taken', messageId: 'm1' }] };
    const lost: Entry = { kind: 'answers', at: 1100, answers: [{ text: 1, no: 2, kind: 'lost', reason: 'line broke' }] };
    expect(post([intent(1, 2), accepted(1), lost, taken], [text({ parts: 2 })]).texts).toMatchObject([{ state: 'uncertain' }]);
  });

  test('wants what the entries speak of', () => {
    const { texts, messageIds, references } = wants([intent(1), accepted(1), receipt('other', 'DELIVRD', 17)]);
    expect([...texts]).toEqual([1]);
    expect([...messageIds].sort()).toEqual(['m1', 'other']);
    expect([...references.values()]).toEqual([{ number: NUMBER, reference: 17 }]);
  });
});
