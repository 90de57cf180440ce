import { Temporal } from 'temporal-polyfill';
import { HoursBook, type HoursRule } from '../src/core/gate/hours';
import { makeTimetable } from '../src/core/plan/times/timetable';
import { race, say, sink } from './figures';

const RECIPIENTS = 1_000_000;
const ZONES = Intl.supportedValuesOf('timeZone')
  .filter((zone) => /^(America|Europe|Asia|Pacific)\//.test(zone))
  .slice(0, 40);
/** Each recipient on their own, as somebody would begin it: 20,000 of them, told for all. */
const SAMPLE = 20_000;

/** When each of very many recipients is due, by the hours of their zone and their own. */
export async function dueTimes(): Promise<void> {
  const base = Date.parse('2026-12-03T01:30:00Z');
  const quiet = { from: '21:00', to: '08:00' };
  const own = [null, { from: '12:00', to: '13:00' }, { from: '17:30', to: '19:15' }, { from: '22:00', to: '09:30' }];
  const parts = new Uint8Array(RECIPIENTS).fill(1);
  const rulesFor = (hours: typeof own): HoursRule[] =>
    ZONES.flatMap((zone) => hours.map((each) => ({ zones: [zone], quiet, own: each, allowed: null })));
  for (const [name, hours, bar] of [
    ['due times for 1,000,000 recipients in 40 zones', [null], 200],
    ['the same with do-not-disturb hours of their own', own, 1000],
  ] as const) {
    const rules = rulesFor([...hours]);
    const groupOf = Uint32Array.from({ length: RECIPIENTS }, (_, i) => (i * 7919) % rules.length);
    const [ours, each] = await race(
      3,
      () => {
        const { due } = makeTimetable({
          base,
          notAfter: base + 86_400_000,
          rate: 100_000,
          rules,
          groupOf,
          parts,
          book: new HoursBook(),
        });
        sink.value += due[RECIPIENTS - 1];
      },
      () => {
        for (let i = 0; i < SAMPLE; i += 1) {
          const zone = ZONES[i % ZONES.length];
          sink.value += Temporal.Instant.fromEpochMilliseconds(base).toZonedDateTimeISO(zone).hour;
        }
      },
    );
    const all = (each * RECIPIENTS) / SAMPLE;
    say({
      name,
      value: ours,
      unit: 'ms',
      against: 'converting each on its own (told from 20,000)',
      ratio: all / ours,
      bar: `≤ ${bar} ms`,
    });
  }
}
