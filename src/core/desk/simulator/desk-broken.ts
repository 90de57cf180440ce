import { gate } from '../../gate/gate';
import { askAt } from '../../line/look-up';
import { onReceipt } from '../../outcome/states';
import { moveOf, type Run, type RunEvent } from '../../runs/life';
import { nextOf } from '../../runs/next';
import type { DeskRules } from './desk-rules';

/** The life of a run with one of its events answered otherwise. */
const lifeWith =
  (is: RunEvent['is'], change: (run: Run, event: RunEvent) => [Run, RunEvent]): typeof moveOf =>
  (run, event, now) =>
    event.is === is ? moveOf(...change(run, event), now) : moveOf(run, event, now);

/** Rules of the desk, each broken on purpose. */
export const BROKEN: readonly [what: string, rules: DeskRules][] = [
  ['a press does not know of one that was called off', { pressForgets: true }],
  ['a press does not look whether its draft is what it was', { pressesOld: true }],
  ['the id of a run that was undone stays taken', { idStays: true }],
  ['storing does not look how far somebody else has come', { storesBlindly: true }],
  ['storing does not look whether the run was called off', { storesOff: true }],
  ['what is planned does not look whether it was written anew', { plansOld: true }],
  ['a date may be taken twice', { datesTwice: true }],
  ['an import may bring two runs', { importsTwice: true }],
  ['an import that was undone brings its run', { undoneGoes: true }],
  ['the money of a run that is called off stays held', { keepsMoney: true }],
  ['what a line has in hand is taken from it', { sweepsLeased: true }],
  ['a reply is acknowledged before it is stored', { acknowledgesFirst: true }],
  ['a stop that is not acted on yet holds nothing', { holdsNothing: true }],
  ['a reply that is brought twice is two', { takesTwice: true }],
  ['what is passed on is not looked at again', { passesTwice: true, jobs: { unfenced: true } }],
  ['lists are not cleaned after a run', { cleansNothing: true }],
  ['work that was asked for while it ran is forgotten', { jobs: { forgets: true } }],
  ['work that failed is not tried again', { jobs: { givesUp: true } }],
  ['work is not fenced', { jobs: { unfenced: true } }],
  ['the line is not fenced', { unfencedLine: true }],
  ['the gate does not look at the register', { ask: (facts, now, book) => gate({ ...facts, registered: false }, now, book) }],
  ['the gate does not look at the run', { ask: (facts, now, book) => gate({ ...facts, run: null }, now, book) }],
  ['the gate does not look at the hours', { ask: (facts, now, book) => gate({ ...facts, asked: true }, now, book) }],
  ['a receipt moves backwards', { receipt: (part, receipt) => onReceipt(part === 'delivered' ? 'uncertain' : part, receipt) }],
  ['a part is asked about too soon', { askAt: (part, now) => (askAt(part, now) === undefined ? undefined : now) }],
  [
    'a run starts while it can be taken back',
    { life: lifeWith('time to start', (run, event) => [{ ...run, takebackUntil: 0 }, event]) },
  ],
  [
    'a run starts however late',
    { life: lifeWith('time to start', (run) => [run, { is: 'time to start', lateLimit: Infinity }]) },
  ],
  ['a run does not wait for a person', { life: lifeWith('time to start', (run, event) => [{ ...run, asks: null }, event]) }],
  [
    'a run ends while parts are on their way',
    {
      life: lifeWith('time to end', (run, event) => [
        run,
        event.is === 'time to end' ? { ...event, open: { ...event.open, texts: 0 } } : event,
      ]),
    },
  ],
  [
    'a run is settled while a part may be handed over again',
    {
      life: lifeWith('time to end', (run, event) => [
        run,
        event.is === 'time to end' ? { ...event, open: { ...event.open, lostAt: null } } : event,
      ]),
    },
  ],
  ['a run that has started is called off', { life: lifeWith('call off', (run, event) => [{ ...run, state: 'waiting' }, event]) }],
  ['a date is planned however late', { next: (course, now) => nextOf(course, now, Infinity) }],
  [
    'a date that is late is forgotten',
    { next: (course, now, late) => (nextOf(course, now, late).do === 'miss' ? { do: 'nothing' } : nextOf(course, now, late)) },
  ],
];
