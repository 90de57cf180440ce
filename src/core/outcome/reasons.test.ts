import { describe, expect, test } from 'vitest';
import { STATUS, isPassing, statusWords } from '../../smpp/commands';
import { adviceFor } from './reasons';
import { failureWords, type ReceiptState } from './states';

describe('what to do about a reason', () => {
  test('every final status of SMPP 3.4 §5.1.3 and every final receipt of its Appendix B says what helps', () => {
    const statuses = Object.values(STATUS).filter((status) => status !== 0 && !isPassing(status));
    const receipts: [ReceiptState, string][] = [
      ['EXPIRED', '000'],
      ['DELETED', '000'],
      ['REJECTD', '000'],
      ['UNDELIV', '001'],
      ['UNDELIV', '013'],
      ['UNDELIV', '000'],
      ['UNDELIV', '099'],
    ];
    const reasons = [...statuses.map(statusWords), ...receipts.map(([receipt, error]) => failureWords(receipt, error))];
    for (const reason of reasons) {
      const { says, acts } = adviceFor('not_delivered', reason);
      expect([reason, says !== '', acts.length > 0]).toEqual([reason, true, true]);
    }
  });
  test.each([
    ['not_delivered', 'number does not exist', ['mark', 'off_list']],
    ['not_delivered', 'the phone does not take texts', ['mark', 'off_list']],
    ['expired', 'the phone was off too long', ['again', 'later']],
    ['not_delivered', 'the carrier does not accept this number', ['mark', 'off_list']],
    ['not_delivered', 'the carrier does not accept this sender', ['again']],
    ['uncertain', 'line broke before the carrier answered', ['twice']],
    ['uncertain', 'the carrier never said what became of it', ['twice']],
    ['not_sent', 'the line broke and the carrier never got it', ['again']],
    ['not_sent', 'opted out', []],
    ['not_sent', 'erased', []],
    ['not_sent', 'consent withdrawn', []],
    ['not_sent', 'canceled by Ana', ['again']],
  ])('%s, %s', (state, reason, acts) => expect(adviceFor(state, reason).acts).toEqual(acts));
  test('nobody who said stop is ever offered to be written to again', () => {
    for (const reason of ['opted out', 'erased', 'must not receive', 'no consent for this', 'a minor, no marketing'])
      expect(adviceFor('not_sent', reason).acts).toEqual([]);
  });
});
