import type { BroadcastAnswer } from '../../core/api/broadcasts';
import type { PlanSummary } from '../../core/api/plan';
import type { RunAnswer } from '../../core/api/runs';
import { EMPTY_DRAFT, type Draft } from '../../core/plan/draft';
import { DROP_REASONS } from '../../core/plan/reach';

/** What tests of these screens begin with: 41 people get a text of one part at half past five; each test says what is different. */
export const draftOf = (part: Partial<Draft> = {}): Draft => ({
  ...EMPTY_DRAFT,
  to: [{ kind: 'list', id: 3 }],
  words: 'The Heron is off.',
  sender_id: 1,
  when: { kind: 'at', date: '2026-12-02', time: '17:30' },
  ...part,
});

export const planOf = (part: Partial<PlanSummary> = {}): PlanSummary => ({
  chosen: 45,
  named_twice: 0,
  stepped_in: 0,
  can_step_in: 0,
  dropped: {
    ...(Object.fromEntries(DROP_REASONS.map((reason) => [reason, 0])) as Record<(typeof DROP_REASONS)[number], number>),
    opted_out: 4,
    too_late: 0,
  },
  people: 41,
  parts: 41,
  cost_micro: 307_500,
  balance_micro: 10_000_000,
  currency: 'USD',
  first: '2026-12-02T22:30:00.000Z',
  last: '2026-12-02T22:32:00.000Z',
  not_after: '2026-12-03T22:30:00.000Z',
  takeback_seconds: 8,
  distribution: [{ parts: 1, people: 41 }],
  units: { usual: 17, longest: 17, room: 143 },
  alphabet: { gsm7: 41, ucs2: 0 },
  fallback: 0,
  zones: [
    {
      zone: 'America/New_York',
      people: 41,
      first: '2026-12-02T22:30:00.000Z',
      last: '2026-12-02T22:32:00.000Z',
      guessed: 2,
    },
  ],
  sender: { id: 1, name: 'Ferry desk', kind: 'short', address: '72345' },
  forcing: [],
  languages: [
    {
      language: 'en',
      worded_in: 'en',
      opt_out: 'STOP to opt out',
      people: 38,
      parts: 38,
      longest: 17,
      extra_parts: 0,
      extra_micro: 0,
    },
    {
      language: 'fr',
      worded_in: 'en',
      opt_out: 'STOP to opt out',
      people: 3,
      parts: 3,
      longest: 17,
      extra_parts: 0,
      extra_micro: 0,
    },
  ],
  extended_cost: null,
  opt_out_words: 'STOP to opt out',
  must_fix: [],
  hints: [],
  samples: [],
  ...part,
});

export const broadcastOf = (part: Partial<BroadcastAnswer> = {}): BroadcastAnswer => ({
  id: 32,
  name: 'Heron is off',
  state: 'draft',
  draft: draftOf(),
  version: 7,
  updated_at: '2026-12-02T20:40:00.000Z',
  run: null,
  labels: [],
  senders: [{ id: 1, name: 'Ferry desk', kind: 'short', address: '72345' }],
  ...part,
});

export const runOf = (
  run: Partial<RunAnswer['run']>,
  tally: Record<string, number>,
  part: Partial<RunAnswer> = {},
): RunAnswer => ({
  run: {
    id: 4,
    broadcast_id: 32,
    name: 'Heron is off',
    state: 'waiting',
    people: 41,
    parts: 41,
    cost_micro: 307_500,
    stored: 41,
    called_off: false,
    due_at: '2026-12-02T22:30:00.000Z',
    last_due_at: '2026-12-02T22:32:00.000Z',
    not_after: '2026-12-03T22:30:00.000Z',
    takeback_until: '2026-12-02T22:30:00.000Z',
    pressed_at: '2026-12-02T20:45:00.000Z',
    started_at: null,
    ended_at: null,
    note: '',
    by: 'Ana Reyes',
    sender: 'Ferry desk',
    sender_address: '72345',
    sender_kind: 'short',
    labels: [],
    ...run,
  },
  tally,
  reasons: [],
  events: [],
  replies: [],
  money: { spent: 0, parts: 0 },
  clicks: { clicked: 0, links: 0, by: [] },
  delays: [],
  opted_out: 0,
  ...part,
});
