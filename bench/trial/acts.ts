import type { Dice } from '../../src/core/line/simulator/dice';
import { isRefusal, type KilledDesk } from '../../harness/killed-desk';

/** What people do in a round, each as a page does it: asked again until there is an answer. */
export interface At {
  desk: KilledDesk;
  dice: Dice;
  sender: number;
  list: number;
  /** One of its people. */
  somebody: number;
  /** Begins the words of everything of the round. */
  name: string;
}

/** What must be true of a broadcast when all is settled. */
export interface Promised {
  broadcast: number;
  /** All its texts begin so. */
  words: string;
  /** How many runs it has; of a repeated one, how many dates with a run or a miss. */
  runs: number;
  /** Everybody got each of them; else nobody did (it was taken back), or it is a matter of when each started. */
  got: 'all' | 'none' | 'by date';
}

interface Broadcast {
  draft: Record<string, unknown>;
  version: number;
  state: string;
}
const of = (at: At, id: number) => at.desk.ask<Broadcast>('GET', `/api/broadcasts/${id}`);
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
/** How often somebody presses anew whose press was undone. */
const MOST_PRESSES = 8;

/** A draft with those words; saved also where the answer that it was saved is lost. */
async function write(at: At, id: number, words: string, rest: Record<string, unknown> = {}): Promise<void> {
  for (;;) {
    const { draft, version } = await of(at, id);
    if (draft.words === words) return;
    try {
      await at.desk.ask('PUT', `/api/broadcasts/${id}`, {
        name: at.name,
        draft: { ...draft, words, sender_id: at.sender, ...rest },
        version,
      });
      return;
    } catch (error) {
      // it was saved by a request whose answer was lost: that is seen above
      if (!isRefusal(error) || !error.message.includes(' 409 ')) throw error;
    }
  }
}

async function make(at: At, words: string, rest: Record<string, unknown> = {}): Promise<number> {
  const { id } = await at.desk.ask<{ id: number }>('POST', '/api/broadcasts', { name: at.name, list_id: at.list });
  await write(at, id, words, rest);
  return id;
}

/** Presses until there is a run (or an agreement), as often anew as a press is undone. Sometimes the same press comes twice at once. */
async function press(at: At, id: number, key: string): Promise<void> {
  const twin = at.dice.chance(0.4);
  for (let n = 0; n < MOST_PRESSES; n += 1) {
    const { draft, version, state } = await of(at, id);
    if (state !== 'draft' && state !== 'set_aside') throw new Error(`${at.name}: ${key} is ${state}, and its press was refused`);
    const { digest } = await at.desk.ask<{ digest: string }>('POST', `/api/broadcasts/${id}/plan`, { draft });
    const once = () =>
      at.desk.ask<{ run_id: number | null }>('POST', `/api/broadcasts/${id}/press`, {
        version,
        digest,
        press_id: `trial-${at.name.replace(/\W/g, '')}-${key}-${n}`,
      });
    const answers = await Promise.allSettled(twin ? [once(), once()] : [once()]);
    const runs = new Set(answers.filter((each) => each.status === 'fulfilled').map((each) => each.value.run_id));
    const refusals = answers.filter((each) => each.status === 'rejected').map((each) => String(each.reason));
    if (runs.size > 1) throw new Error(`${at.name}: one press made two runs`);
    // one of two may have come to the run just before it was undone; then the other says so
    if (refusals.length === 0) return;
    if (!refusals.every((words) => words.includes('press-over') || words.includes('moved')))
      throw new Error(`${at.name}: ${refusals.join('; ')}`);
  }
  throw new Error(`${at.name}: ${key} was undone ${MOST_PRESSES} times`);
}

/** Whether what was pressed is there; else it was undone after the answer, and is pressed anew. */
async function pressFirmly(at: At, id: number, key: string): Promise<void> {
  for (let n = 0; n < MOST_PRESSES; n += 1) {
    await press(at, id, `${key}${n}`);
    const stands = await at.desk.until(async () => {
      const { state, run } = await at.desk.ask<{ state: string; run: { state: string } | null }>('GET', `/api/broadcasts/${id}`);
      return run?.state === 'planning' ? false : { draft: state === 'draft' };
    });
    if (!stands.draft) return;
  }
}

export async function presses(at: At): Promise<Promised[]> {
  const words = `${at.name} pressed.`;
  const id = await make(at, `${words} Ottermere Ferry`);
  await pressFirmly(at, id, 'pressed');
  return [{ broadcast: id, words, runs: 1, got: 'all' }];
}

/** Pressed, taken back within its seconds, written anew and pressed again. Nobody may get both. */
export async function takesBack(at: At): Promise<Promised[]> {
  const [first, second] = [`${at.name} first.`, `${at.name} second.`];
  const id = await make(at, `${first} Ottermere Ferry`);
  await press(at, id, 'first');
  await pause(at.dice.between(0, 1200));
  await at.desk.ask('POST', `/api/broadcasts/${id}/set-aside`, { as: 'draft' }).catch((error: unknown) => {
    if (!isRefusal(error)) throw error;
  });
  const { state } = await of(at, id);
  if (state !== 'draft') return [{ broadcast: id, words: first, runs: 1, got: 'all' }];
  await write(at, id, `${second} Ottermere Ferry`);
  await pressFirmly(at, id, 'second');
  return [
    { broadcast: id, words: first, runs: 0, got: 'none' },
    { broadcast: id, words: second, runs: 1, got: 'all' },
  ];
}

/** On two days, at an hour that has just passed or has not when the clock is moved by a day. */
export async function repeats(at: At): Promise<Promised[]> {
  const words = `${at.name} daily.`;
  const { now } = await at.desk.ask<{ now: string }>('GET', '/api/session');
  const then = new Date(Date.parse(now) + (1440 - at.dice.between(0, 45)) * 60_000);
  const wall = new Intl.DateTimeFormat('sv', {
    timeZone: 'America/New_York',
    dateStyle: 'short',
    timeStyle: 'short',
  }).format(then);
  const [date, time] = wall.split(' ');
  const id = await make(at, `${words} Ottermere Ferry`, {
    when: { kind: 'at', date, time, repeats: { every: 'day', n: 1, times: 2 } },
  });
  await pressFirmly(at, id, 'daily');
  return [{ broadcast: id, words, runs: 2, got: 'by date' }];
}

/** How many people a file brings. */
export const BROUGHT = 300;
const file = (round: number, which: number) =>
  Buffer.from(
    `Mobile,First,Last\n${Array.from({ length: BROUGHT }, (_, i) => `(605) ${which === 0 ? 22 : 32}${round % 10}-${String(Math.floor(round / 10) * 1000 + i).padStart(4, '0')},P${i},Trial`).join('\n')}\n`,
  );

interface Import {
  id: number;
  file_name: string;
  state: string;
  at_row: number;
  version: number;
  counts: { new?: number };
  settings: Record<string, unknown>;
}

async function onTheBench(at: At, name: string, bytes: Buffer): Promise<number> {
  const here = async () =>
    (await at.desk.ask<{ imports: Import[] }>('GET', '/api/imports')).imports.find((each) => each.file_name === name)?.id;
  await at.desk.upload(`/api/imports/file?name=${encodeURIComponent(name)}`, bytes);
  const id = await here();
  if (id === undefined) throw new Error(`${name} was taken, and is not there`);
  return id;
}
const checked = (at: At, id: number) =>
  at.desk.until(async () => {
    const one = await at.desk.ask<Import>('GET', `/api/imports/${id}`);
    return one.state === 'open' && one.at_row === 0 && one.counts.new !== undefined && one;
  });

async function bringIn(at: At, id: number): Promise<void> {
  const { version, counts } = await checked(at, id);
  if (counts.new !== BROUGHT) throw new Error(`${at.name}: ${counts.new} of ${BROUGHT} people of a file are new`);
  await at.desk.ask('POST', `/api/imports/${id}/decide`, { version }).catch((error: unknown) => {
    // decided by a request whose answer was lost
    if (!isRefusal(error)) throw error;
  });
  await at.desk.until(async () => (await at.desk.ask<Import>('GET', `/api/imports/${id}`)).state === 'done');
}

/** Goes by itself to whoever is brought into a list. */
export async function imports(at: At, round: number): Promise<Promised[]> {
  const words = `${at.name} brought.`;
  const list = await at.desk
    .ask<{ id: number }>('POST', '/api/lists', { name: `${at.name} list` })
    .catch(async (error: unknown) => {
      const { lists } = await at.desk.ask<{ lists: { id: number; name: string }[] }>('GET', '/api/people/sources');
      const made = lists.find((each) => each.name === `${at.name} list`);
      if (!made) throw error;
      return made;
    });
  // a list of nobody cannot be agreed to
  await at.desk.ask('PUT', `/api/lists/${list.id}/members/${at.somebody}`, {});
  const id = await make({ ...at, list: list.id }, `${words} Ottermere Ferry`, { when: { kind: 'import', list_id: list.id } });
  await press(at, id, 'brought');
  const brought = await onTheBench(at, `${at.name}.csv`, file(round, 0));
  const { settings } = await checked(at, brought);
  await at.desk.ask('PUT', `/api/imports/${brought}/settings`, { ...settings, list: `${at.name} list` });
  await bringIn(at, brought);
  return [{ broadcast: id, words, runs: 1, got: 'all' }];
}

/** A file that is brought in and taken back: nobody of it stays. */
export async function takesAFileBack(at: At, round: number): Promise<Promised[]> {
  const id = await onTheBench(at, `${at.name} undone.csv`, file(round, 1));
  await bringIn(at, id);
  await at.desk.ask('POST', `/api/imports/${id}/undo`, {}).catch((error: unknown) => {
    if (!isRefusal(error)) throw error;
  });
  await at.desk.until(async () => (await at.desk.ask<Import>('GET', `/api/imports/${id}`)).state === 'undone');
  return [];
}
