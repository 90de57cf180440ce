import fc from 'fast-check';
import { Temporal } from 'temporal-polyfill';
import { expect, test } from 'vitest';
import { gate } from '../gate/gate';
import { HoursBook } from '../gate/hours';
import { plausibleZones } from '../gate/plausible';
import type { Draft } from './draft/draft';
import { NOON, person, planFor, WORKSPACE } from './testing';
import { nextRun } from './times/upcoming';

/**
 * No text of any plan outside its gate, whatever its repeats, starts in people's own time, paces, allowed hours and the line's other
 * runs: asked of the gate itself, and of the wall clocks of every zone somebody may be in, by Temporal (TC39), which our own hours do
 * not use here.
 */
const ZONES = [
  'America/New_York',
  'America/Los_Angeles',
  'Pacific/Honolulu',
  'Europe/Berlin',
  'Asia/Kathmandu',
  'Australia/Lord_Howe',
];
const QUIET = [
  { quiet_from: '21:00', quiet_to: '08:00' },
  { quiet_from: '00:00', quiet_to: '06:30' },
  { quiet_from: '12:00', quiet_to: '13:00' },
];
const people = fc.array(
  fc.record({
    zone: fc.constantFrom(...ZONES, null),
    guessed: fc.boolean(),
    quiet: fc.constantFrom(null, '12:00-18:00', '22:30-07:15'),
  }),
  { minLength: 1, maxLength: 12 },
);
const at = fc.record({
  kind: fc.constant('at' as const),
  // over both changes of the clocks, in both hemispheres
  date: fc.constantFrom('2026-12-03', '2027-03-13', '2027-03-27', '2027-04-03', '2027-10-02', '2027-11-06'),
  time: fc.constantFrom('02:30', '07:59', '09:00', '20:55', '23:30'),
  own: fc.boolean(),
  repeats: fc.constantFrom<Extract<Draft['when'], { kind: 'at' }>['repeats']>(
    undefined,
    { every: 'day', n: 1 },
    { every: 'week', n: 1, days: [1, 7] },
    { every: 'month', n: 1, on: 'last_day' },
  ),
});
const pace = fc.constantFrom<Draft['pace']>(undefined, { kind: 'a_minute', texts: 1 }, { kind: 'a_minute', texts: 7 });
const allowed = fc.constantFrom<Draft['allowed']>(
  undefined,
  { days: [1, 2, 3, 4, 5], from: '10:00', to: '16:00' },
  { days: [6, 7], from: '00:00', to: '24:00' },
);

const minutes = (clock: string) => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3, 5));
const within = (now: number, from: string, to: string) =>
  minutes(from) <= minutes(to) ? now >= minutes(from) && now < minutes(to) : now >= minutes(from) || now < minutes(to);

test('no text of any plan outside its gate (property)', () => {
  let looked = 0;
  fc.assert(
    fc.property(
      people,
      fc.oneof(at, fc.constant({ kind: 'now' as const })),
      pace,
      allowed,
      fc.constantFrom(...QUIET),
      fc.integer({ min: 0, max: 20 }),
      fc.boolean(),
      (those, when, slow, only, quiet, later, busy) => {
        const crowd = those.map((each, i) =>
          person(i + 1, { zone: each.zone, zone_guessed: each.guessed && each.zone !== null, quiet: each.quiet }),
        );
        const workspace = { ...WORKSPACE, ...quiet };
        // of a repeated one, a run some days on
        const now =
          when.kind === 'at'
            ? Date.parse(`${when.date}T00:00:00Z`) - 86_400_000 + (when.repeats ? later * 86_400_000 : 0)
            : NOON + later * 3_600_000;
        const asked = { when, ...(slow ? { pace: slow } : {}), ...(only ? { allowed: only } : {}) };
        const draft = nextRun(
          {
            to: [{ kind: 'everyone' }],
            leave_out: [],
            unticked: [],
            words: 'Ottermere: off.',
            opt_out: 'in_text',
            link: null,
            purpose: 'service',
            sender_id: 1,
            no_use_after: null,
            ...asked,
          },
          now,
          workspace.zone,
        );
        const plan = planFor(draft, crowd, {
          now,
          workspace,
          sender: { parts_per_second: 1 },
          busy: busy ? [{ from: now, until: now + 7_200_000 }] : [],
        });
        const book = new HoursBook();
        const notAfter = Date.parse(plan.summary.not_after);
        for (let i = 0; i < plan.texts.count; i += 1) {
          const each = plan.texts.people[i];
          const due = plan.texts.due[i];
          const zones = plausibleZones(
            { zone: each.zone, zoneGuessed: each.zone_guessed, number: each.number ?? '' },
            workspace.zone,
          );
          const own = each.quiet ? { from: each.quiet.slice(0, 5), to: each.quiet.slice(6) } : null;
          const answer = gate(
            {
              kind: 'run',
              purpose: 'service',
              registered: false,
              person: 'here',
              consent: null,
              needsYes: false,
              mustNot: false,
              undecided: null,
              number: true,
              minor: false,
              notAfter,
              run: { state: 'sending', note: '' },
              hours: { zones, quiet: { from: quiet.quiet_from, to: quiet.quiet_to }, own, allowed: only ?? null },
              day: null,
              override: false,
              asked: false,
            },
            due,
            book,
          );
          expect(answer.kind, `${each.zone ?? 'no zone'} at ${new Date(due).toISOString()}`).toBe('go');
          for (const zone of zones) {
            const local = Temporal.Instant.fromEpochMilliseconds(due).toZonedDateTimeISO(zone);
            const clock = local.hour * 60 + local.minute;
            expect(within(clock, quiet.quiet_from, quiet.quiet_to), `${local.toString()} is quiet`).toBe(false);
            if (own) expect(within(clock, own.from, own.to), `${local.toString()} is theirs`).toBe(false);
            if (only) {
              expect(only.days).toContain(local.dayOfWeek);
              expect(clock >= minutes(only.from) && clock < (only.to === '24:00' ? 1440 : minutes(only.to))).toBe(true);
            }
          }
          looked += 1;
        }
        // never more in a minute than was said
        const due = [...plan.texts.due].sort((a, b) => a - b);
        if (slow?.kind === 'a_minute')
          for (let i = slow.texts; i < due.length; i += 1) expect(due[i] - due[i - slow.texts]).toBeGreaterThanOrEqual(59_999);
      },
    ),
    { numRuns: 400 },
  );
  expect(looked).toBeGreaterThan(1000);
});
