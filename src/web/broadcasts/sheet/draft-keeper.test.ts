import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { DraftKeeper } from './draft-keeper';

function opened(): DraftKeeper<string> {
  const keeper = new DraftKeeper<string>();
  keeper.heard({ value: 'old', version: 1 });
  return keeper;
}

describe('a draft that saves itself', () => {
  test('an answer that was asked for before the save does not bring the old words back', () => {
    const keeper = opened();
    keeper.type('new');
    keeper.begin();
    expect(keeper.heard({ value: 'old', version: 1 })).toBe(false);
    keeper.done(2);
    expect(keeper.heard({ value: 'old', version: 1 })).toBe(false);
    expect(keeper.value).toBe('new');
  });

  test('words typed while a save is under way are saved after it', () => {
    const keeper = opened();
    keeper.type('one');
    expect(keeper.begin()).toEqual({ value: 'one', version: 1 });
    keeper.type('one two');
    keeper.done(2);
    expect(keeper.heard({ value: 'one', version: 2 })).toBe(false);
    expect(keeper.begin()).toEqual({ value: 'one two', version: 2 });
  });

  test('what could not be saved stays on the page, whatever version the server has', () => {
    const keeper = opened();
    keeper.type('mine');
    keeper.begin();
    keeper.failed();
    expect(keeper.heard({ value: "someone else's", version: 5 })).toBe(false);
    expect(keeper.value).toBe('mine');
  });

  test("someone else's newer words are taken over when nothing here is unsaved", () => {
    const keeper = opened();
    expect(keeper.heard({ value: 'theirs', version: 2 })).toBe(true);
    expect(keeper.value).toBe('theirs');
  });

  test('whatever crosses, what stands is the last that was typed, and the last saved is what was typed', () => {
    const step = fc.oneof(
      fc.record({ kind: fc.constant('type' as const), value: fc.string({ maxLength: 3 }) }),
      fc.record({ kind: fc.constantFrom('save' as const, 'answer' as const, 'fail' as const) }),
      fc.record({ kind: fc.constant('hear' as const), version: fc.nat(6) }),
    );
    fc.assert(
      fc.property(fc.array(step, { maxLength: 30 }), (steps) => {
        const keeper = opened();
        let server = { value: 'old', version: 1 };
        const history = [server];
        let typed: string | undefined;
        let sending: string | undefined;
        for (const each of steps) {
          if (each.kind === 'type') keeper.type((typed = each.value));
          else if (each.kind === 'save') sending = keeper.begin()?.value ?? sending;
          else if (each.kind === 'answer' && sending !== undefined && keeper.isSending) {
            server = { value: sending, version: server.version + 1 };
            history.push(server);
            keeper.done(server.version);
          } else if (each.kind === 'fail') keeper.failed();
          // any answer the server ever gave may still arrive
          else if (each.kind === 'hear') keeper.heard(history[each.version % history.length]);
          if (typed !== undefined) expect(keeper.value).toBe(typed);
        }
        if (typed !== undefined && !keeper.unsaved) expect(server.value).toBe(typed);
      }),
    );
  });
});
