import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { classifyReply } from './keywords';
import { isFinal, onReceipt, rollUp, TEXT_STATES, type ReceiptState } from './states';

const RECEIPTS: ReceiptState[] = ['ENROUTE', 'DELIVRD', 'EXPIRED', 'DELETED', 'UNDELIV', 'ACCEPTD', 'UNKNOWN', 'REJECTD'];

describe('states', () => {
  test('receipts in any order, doubled, never move a final state', () => {
    fc.assert(
      fc.property(fc.constantFrom(...TEXT_STATES), fc.array(fc.constantFrom(...RECEIPTS)), (from, receipts) => {
        let state = from;
        for (const receipt of receipts) {
          const next = onReceipt(state, receipt);
          if (isFinal(state)) expect(next).toBeUndefined();
          state = next ?? state;
          expect(onReceipt(state, receipt)).toBeUndefined(); // a double changes nothing
        }
      }),
    );
  });
  test('an uncertain part is resolved by a receipt', () => {
    expect(onReceipt('uncertain', 'DELIVRD')).toBe('delivered');
    expect(onReceipt('uncertain', 'ACCEPTD')).toBe('with_carrier');
    expect(onReceipt('planned', 'DELIVRD')).toBeUndefined();
  });
  test('a text from its parts', () => {
    expect(rollUp(['delivered', 'delivered'])).toBe('delivered');
    expect(rollUp(['delivered', 'not_delivered', 'with_carrier'])).toBe('not_delivered');
    expect(rollUp(['delivered', 'uncertain'])).toBe('uncertain');
    expect(rollUp(['uncertain', 'planned'])).toBe('handing_over');
    expect(rollUp(['with_carrier', 'delivered'])).toBe('with_carrier');
    expect(rollUp(['not_sent', 'not_sent'])).toBe('not_sent');
    expect(rollUp(['delivered', 'not_sent'])).toBe('not_delivered');
  });
});

describe('replies', () => {
  test('the words of 47 CFR 64.1200(a)(10), however written', () => {
    for (const text of [
      'stop',
      'QUIT',
      'End.',
      'revoke',
      'Opt out',
      'opt-out',
      'cancel',
      'UNSUBSCRIBE!',
      'S T O P',
      'stop stop',
      'Stop please',
      'STOPALL',
      'Arrêt',
      'ALTO',
      // found being texted on while a person decided
      'STOPP',
      'st0p',
      '$top',
      'Arrêtez',
      'désinscrire',
      'cancelar',
      'no más',
      'basta',
      '🛑',
      'remove',
      'opt me out',
      "don't text me again",
      'Don’t text me again',
      'no more messages',
      'STOP.\n-- Jim',
      'unsubscribe me please',
      'stop texting me',
      'stop texting me you',
      'take me off this list',
      'please stop sending me messages, thank you',
      'ne m’écrivez plus',
      'no me envíen más mensajes',
    ])
      expect([text, classifyReply(text)]).toEqual([text, 'stop']);
  });
  test('what only sounds like stop goes to a person', () => {
    for (const text of [
      'Please stop by at noon',
      'does the bus stop there?',
      "don't stop",
      'the end of the pier',
      'cancel my order',
      'wrong number',
      'when does it end?',
    ])
      expect([text, classifyReply(text)]).toEqual([text, 'maybe_stop']);
  });
  test('takes no longer for a long reply than for a short one', () => {
    expect(classifyReply(`${'stop '.repeat(50_000)}by`)).toBe('stop');
    expect(classifyReply(`${'me '.repeat(50_000)}`)).toBe('reply');
  });
  test('start, help and ordinary replies', () => {
    expect(['Start', 'UNSTOP', 'help', 'INFO?', 'Is the 5:20 still running?', '', '👍', 'ok thx'].map(classifyReply)).toEqual([
      'start',
      'start',
      'help',
      'help',
      'reply',
      'reply',
      'reply',
      'reply',
    ]);
  });
});
