import type { Conversation, Thread, ThreadText } from '../../core/api/desk/replies';

/** A conversation of somebody who waits. */
export const conversation = (id: number, part: Partial<Conversation> = {}): Conversation => ({
  number: `+1207555014${id}`,
  person_id: id,
  name: `Person ${id}`,
  since: '2026-12-02T20:10:00.000Z',
  waiting: 1,
  last: { id, at: '2026-12-02T20:10:00.000Z', body: `Question ${id}?`, kind: 'reply' },
  answered: 0,
  doubtful: null,
  opted_out: false,
  run_id: 4,
  run: 'Fog',
  claimed_by: null,
  later_at: null,
  ...part,
});

/** One text of theirs that waits. */
export const theirs = (id: number, part: Partial<ThreadText> = {}): ThreadText => ({
  id,
  direction: 'from',
  at: '2026-12-02T20:10:00.000Z',
  body: `Question ${id}?`,
  kind: 'reply',
  state: null,
  reason: null,
  run_id: 4,
  run: 'Fog',
  people: null,
  meant: null,
  by: null,
  late: false,
  read_days: null,
  incomplete: false,
  trouble: null,
  octets: null,
  waits: true,
  passed_to: null,
  ...part,
});

export const threadOf = (id: number, part: Partial<Thread> = {}): Thread => ({
  number: `+1207555014${id}`,
  person_id: id,
  name: `Person ${id}`,
  texts: [theirs(id)],
  more: false,
  opted_out: false,
  shared_with: [],
  had_before: [],
  sender: { id: 1, name: 'Ferry desk', address: '72345' },
  seen: id,
  answered: 0,
  claimed_by: null,
  later_at: null,
  held: [],
  ...part,
});
