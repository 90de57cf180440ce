import type { Receipt } from '../entries';
import type { SimCarrier } from './far-end';
import type { Plan } from './plan';
import { quietIn, SIM_DAY, type SimStore, type SimText } from './store';

/** All there is at the end of a history. */
export interface End {
  plan: Plan;
  now: number;
  store: SimStore;
  carrier: SimCarrier;
  /** Number → the reasons for which nothing may go there any more. */
  removed: ReadonlyMap<string, ReadonlySet<string>>;
  acknowledged: readonly Receipt[];
  /** When parts were written, in order. */
  wrote: readonly number[];
}

/** An oracle of its own, that knows nothing of the gate: what is wrong with handing this text over now. */
export function wrongToSend(store: SimStore, text: SimText, now: number): string | undefined {
  const person = store.people.get(text.number);
  const run = text.run === null ? undefined : store.runs.get(text.run);
  if (person?.registered === true) return 'to a stopped number';
  if (person?.state !== 'here') return `to someone ${person?.state}`;
  if (person.withdrawn && text.run !== null) return 'without consent';
  if (now >= text.notAfter) return 'after its use';
  if (run && run.state !== 'sending') return `while its run is ${run.state}`;
  return person.zones.some((zone) => quietIn(zone, now)) ? 'in quiet hours' : undefined;
}

/** Nobody twice, nobody lost, every text with its end and its reason, the money right, the rate kept: what is not so. */
export function check(end: End): string[] {
  const { store, carrier } = end;
  const problems: string[] = [];
  const taken = new Map<number, number>();
  for (const each of carrier.taken) taken.set(each.text * 16 + each.no, (taken.get(each.text * 16 + each.no) ?? 0) + 1);
  for (const [key, times] of taken) if (times > 1) problems.push(`text ${key >> 4} part ${key & 15} was taken ${times} times`);
  problems.push(...store.backwards.map((each) => `a final state moved: ${each}`));
  for (const text of store.texts.values()) {
    if (text.open > 0) problems.push(`text ${text.id} never came to an end: ${text.state}`);
    if (text.state === 'not_sent') problems.push(...checkReason(end, text));
    problems.push(...checkParts(end, text, taken));
  }
  problems.push(...checkRate(end));
  return problems;
}

function checkReason({ store, plan, removed, now }: End, text: SimText): string[] {
  if (!text.reason) return [`text ${text.id} was not sent, and no reason is told`];
  const run = text.run === null ? undefined : store.runs.get(text.run);
  const excused =
    removed.get(text.number)?.has(text.reason) ||
    (run?.state === 'stopped' && text.reason === 'canceled') ||
    (text.reason === 'of no more use by then' && now >= text.notAfter) ||
    (text.reason === 'no allowed hour before it is of no use' && plan.notAfter < SIM_DAY);
  return excused ? [] : [`text ${text.id} was not sent for a wrong reason: ${text.reason}`];
}

export function checkParts({ store, carrier, acknowledged }: End, text: SimText, taken: ReadonlyMap<number, number>): string[] {
  const problems: string[] = [];
  let billed = 0;
  for (let no = 1; no <= text.parts; no += 1) {
    const part = store.parts.get(text.id * 16 + no);
    const truth = taken.has(text.id * 16 + no);
    const state = part?.state ?? 'not_sent';
    if (truth && (state === 'planned' || state === 'not_sent'))
      problems.push(`text ${text.id} part ${no} was taken, and is told as ${state}`);
    if (!truth && ['with_carrier', 'delivered', 'expired'].includes(state))
      problems.push(`text ${text.id} part ${no} was never taken, and is told as ${state}`);
    if (truth || state === 'uncertain') billed += 1;
    if (carrier.temper.echoes && carrier.temper.looksUp && state === 'uncertain')
      problems.push(`text ${text.id} part ${no} stays uncertain though it could be known`);
    const heard = acknowledged.find((receipt) => receipt.messageId === part?.messageId && receipt.state !== 'ENROUTE');
    if (part?.messageId && heard && !['delivered', 'not_delivered'].includes(state))
      problems.push(`an acknowledged receipt of text ${text.id} part ${no} was lost: ${state}`);
  }
  if (text.billed !== billed) problems.push(`text ${text.id}: ${text.billed} parts are paid, ${billed} were taken`);
  return problems;
}

/** Never more in a stretch than the rate, the slack of 250 ms, and a text of several parts that went as one. */
export function checkRate({ plan, wrote }: End): string[] {
  const even = 1000 / plan.rate;
  for (let i = 0; i < wrote.length; i += 5)
    for (let j = i + 4; j < wrote.length; j += 5)
      if ((j - i + 1 - 4) * even > wrote[j] - wrote[i] + 300)
        return [`the sender went faster than its rate: ${j - i + 1} parts in ${wrote[j] - wrote[i]} ms at ${plan.rate} a second`];
  return [];
}
