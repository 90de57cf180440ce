import { describe, expect, test } from 'vitest';
import type { Keyword } from '../../core/api/desk/keywords';
import { bodyOf, startOf } from './keyword-fields';

const ZONE = 'America/New_York';
const FERRY: Keyword = {
  id: 1,
  word: 'FERRY',
  sender_id: 2,
  sender: 'Ferry desk',
  address: '72345',
  list_id: 3,
  list: 'Ferry',
  tag_id: null,
  tag: null,
  purpose: 'service',
  consent_wording: 'Notices.',
  confirms: 'You are on the list.',
  asks_first: false,
  asks: '',
  // in the middle of a day, as it was added
  from_at: '2026-10-30T15:20:11.000Z',
  until_at: '2026-11-02T05:00:00.000Z',
  signed_up: 4,
  asked: 0,
  last_at: null,
  ended_at: null,
  alike: [],
};

describe('a keyword in its form', () => {
  test('holds to the end of its last day, over the change of the clocks, and keeps the minute it began at', () => {
    const fields = startOf(FERRY, 2, 'Ottermere', ZONE);
    expect(fields).toMatchObject({ from_day: '2026-10-30', until_day: '2026-11-01', list_id: '3', tag_id: '' });
    expect(bodyOf(fields, ZONE, FERRY)).toMatchObject({
      from_at: FERRY.from_at,
      until_at: FERRY.until_at,
      list_id: 3,
      tag_id: null,
      sender_id: 2,
    });
  });

  test('another first day begins at midnight; none is now, and open', () => {
    const fields = startOf(FERRY, 2, 'Ottermere', ZONE);
    expect(bodyOf({ ...fields, from_day: '2026-12-24', until_day: '' }, ZONE, FERRY)).toMatchObject({
      from_at: '2026-12-24T05:00:00.000Z',
      until_at: null,
    });
    const fresh = startOf(undefined, 2, 'Ottermere', ZONE);
    expect(bodyOf({ ...fresh, word: 'BOAT', consent_wording: 'x' }, ZONE, undefined)).toMatchObject({
      from_at: null,
      until_at: null,
    });
    expect(fresh.confirms).toBe('Ottermere: you are on the list. STOP to get no more.');
  });
});
