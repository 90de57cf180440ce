import { expect, test } from 'vitest';
import { STATUS, statusWords } from '../../smpp/commands';
import { codeOf } from './reason-codes';
import { failureWords, type ReceiptState } from './states';

/** SMPP 3.4 §5.1.3, table 5-2: what a submit may be answered with that we say in words of our own. */
test.each([
  [STATUS.invalid_message_length, '0x01'],
  [STATUS.system_error, '0x08'],
  [STATUS.temporary_app_error, '0x64'],
  [STATUS.invalid_source, '0x0A'],
  [STATUS.invalid_destination, '0x0B'],
  [STATUS.queue_full, '0x14'],
  [STATUS.throttled, '0x58'],
  [STATUS.submit_failed, '0x45'],
])('status %i is named %s', (status, code) => {
  expect(status).toBe(Number(code));
  expect(codeOf(statusWords(status))).toContain(code);
});

test.each<[ReceiptState, string]>([
  ['EXPIRED', '000'],
  ['DELETED', '000'],
  ['REJECTD', '000'],
  ['UNDELIV', '001'],
  ['UNDELIV', '013'],
])('a receipt %s with error %s is named by both', (state, error) => {
  const code = codeOf(failureWords(state, error));
  expect(code).toContain(state);
  if (error !== '000') expect(code).toContain(error);
});

test('a code that stands in the reason is not said twice, and what no carrier said has none', () => {
  expect(codeOf(statusWords(0x43))).toBe('');
  expect(statusWords(0x43)).toContain('0x00000043');
  expect(codeOf(failureWords('UNDELIV', '099'))).toBe('');
  expect(codeOf('opted out')).toBe('');
});
