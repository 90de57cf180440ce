import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import type { RunAnswer } from '../src/core/api/sending/runs';
import { Desk, until } from './desk';
import { openDemo, type Demo } from './demo';
import { byMinute, secondFigures } from './second-figures';

/** Words of more and fewer parts, plain and extended; each with the run's name first and a link. */
const WORDS = [
  (name: string) => `${name}. {given_name or "neighbor"}: the winter timetable {link timetable}`,
  (name: string) =>
    `${name}. {given_name or "neighbor"}, the Kittiwake takes over from the Heron at {home_landing or "the quay"} while the Heron is on the slip; the timetable is at {link timetable} and the desk answers until five.`,
  (name: string) => `${name}. {given_name or "vous"}: les horaires d’hiver 🚢 {link timetable}`,
  (name: string) =>
    `${name}. {given_name or "vous"} – les horaires d’hiver à {home_landing or "l’embarcadère"} sont là : {link timetable} · répondez 1 oui, 2 non.`,
];
const LISTS = ['Morning boat regulars', 'Pass holders', 'Berth holders', 'Freight customers', 'Crew and staff'];

/** One run with what was done to it, so that its figures can be held against what is known. */
interface Made {
  name: string;
  id: number;
  people: number;
  clicked: number;
  answered: number;
  stopped: number;
}

/** Random runs over the real demo, with kills while they go; then each one's figures against the second implementation's. */
export class FigureRuns {
  private readonly made: Made[] = [];
  private sender = 0;
  private lists: { id: number; name: string }[] = [];
  private roll: number;
  constructor(
    public demo: Demo,
    private desk: Desk,
    private readonly environment: Record<string, string>,
    seed: number,
  ) {
    this.roll = seed;
  }

  /** Chance, but the same each time. */
  private random(below: number): number {
    this.roll = (Math.imul(this.roll, 1_103_515_245) + 12_345) >>> 0;
    return (this.roll >>> 8) % below;
  }

  async begin(): Promise<void> {
    await this.desk.signIn();
    this.sender = (
      await this.desk.ask<{ id: number }>('POST', '/api/setup/senders', {
        name: 'Fast',
        kind: 'short',
        address: '72397',
        parts_per_second: 1000,
      })
    ).id;
    await this.desk.ask('POST', '/api/setup/balance', { amount_micro: 900_000_000 });
    this.lists = (await this.desk.ask<{ lists: { id: number; name: string }[] }>('GET', '/api/people/sources')).lists.filter(
      ({ name }) => LISTS.includes(name),
    );
  }

  /** Presses so many at once, and kills something while they go. */
  async batch(names: readonly string[]): Promise<void> {
    for (const name of names) await this.press(name);
    await this.desk.ask('POST', '/api/clock', { minutes: 1 });
    for (const kill of [this.random(3), this.random(3)]) {
      await new Promise((resolve) => setTimeout(resolve, 200 + this.random(900)));
      if (kill !== 0) process.kill(await this.carrier(), 'SIGKILL');
      if (kill !== 1) {
        await this.demo.stop('SIGKILL');
        this.demo = await openDemo(this.demo.folder, this.environment);
        this.desk = this.desk.at(this.demo.url);
      }
    }
    for (const made of this.made.filter(({ name }) => names.includes(name))) {
      let moved = false;
      await until(async () => {
        const { run, tally } = await this.says(made.id);
        const moving = (tally.planned ?? 0) + (tally.handing_over ?? 0) + (tally.with_carrier ?? 0) + (tally.uncertain ?? 0);
        // a phone that is off comes back within the minute: the clock is moved there, once
        if ((tally.planned ?? 0) + (tally.handing_over ?? 0) === 0 && moving > 0 && !moved) {
          await this.desk.ask('POST', '/api/clock', { minutes: 1 });
          moved = true;
        }
        return run.ended_at !== null && moving === 0;
      }, 240);
    }
  }

  private says(id: number): Promise<RunAnswer> {
    return this.desk.ask<RunAnswer>('GET', `/api/runs/${id}`);
  }

  /** The practice carrier's process; it may just be on its way up again. */
  private carrier(): Promise<number> {
    return until(async () =>
      Number(
        execFileSync('pgrep', ['-P', String(this.demo.child.pid)], { encoding: 'utf8' })
          .trim()
          .split('\n')[0],
      ),
    );
  }

  private async press(name: string): Promise<void> {
    const { desk } = this;
    const list = this.lists[this.random(this.lists.length)];
    const { id } = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name, list_id: list.id });
    const broadcast = await desk.ask<{ draft: Record<string, unknown>; version: number }>('GET', `/api/broadcasts/${id}`);
    const draft = {
      ...broadcast.draft,
      words: WORDS[this.random(WORDS.length)](name),
      links: [{ name: 'timetable', address: 'https://example.org/winter' }],
      opt_out: 'none',
      sender_id: this.sender,
    };
    const { version } = await desk.ask<{ version: number }>('PUT', `/api/broadcasts/${id}`, {
      name,
      draft,
      version: broadcast.version,
    });
    const { digest, plan } = await desk.ask<{ digest: string; plan: { people: number } }>('POST', `/api/broadcasts/${id}/plan`, {
      draft,
    });
    const { run_id } = await desk.ask<{ run_id: number }>('POST', `/api/broadcasts/${id}/press`, {
      version,
      digest,
      press_id: `figures-${name.replaceAll(' ', '-')}`,
    });
    await until(async () => (await this.says(run_id)).run.state !== 'planning');
    this.made.push({ name, id: run_id, people: plan.people, clicked: 0, answered: 0, stopped: 0 });
  }

  /** Follows some links as people and some as machines, answers and stops from some phones. Of the last run of each batch, so that an answer is its. */
  async answer(name: string): Promise<void> {
    const made = this.made.find((each) => each.name === name);
    if (!made) throw new Error(`No run ${name}`);
    const { texts } = this.seen(name);
    const delivered = [...texts].filter(([, text]) => text.states.every((state) => state === 'DELIVRD'));
    const asPerson = { 'user-agent': 'Mozilla/5.0 (Linux; Android 14) AppleWebKit/537.36 Chrome/130.0 Mobile Safari/537.36' };
    for (const [i, [number, { words }]] of delivered.slice(0, 40).entries()) {
      const token = /\/l\/([2-9a-z]{12})/.exec(words)?.[1];
      if (token === undefined) throw new Error(`No link in “${words}”`);
      const follow = (headers: Record<string, string>) =>
        fetch(`${this.demo.url}/l/${token}`, { headers, redirect: 'manual' }).then((answer) => answer.status);
      if (i % 4 === 0) {
        // twice is one
        for (let time = 0; time < 2; time += 1) if ((await follow(asPerson)) !== 302) throw new Error('A link leads nowhere.');
        made.clicked += 1;
      } else if (i % 4 === 1) await follow({ 'user-agent': 'Googlebot/2.1 (+http://www.google.com/bot.html)' });
      const text = (words_: string) =>
        this.desk.ask('POST', `/api/phones/${number.slice(1)}/text`, { to: '72397', text: words_ });
      if (i % 5 === 0) {
        await text('Thanks, see you');
        await text('and the dog?');
        made.answered += 1;
      } else if (i === 7) {
        await text('STOP');
        made.stopped += 1;
      }
    }
    await until(async () => {
      const { answers, opted_out } = await this.says(made.id);
      return answers.people === made.answered && opted_out === made.stopped;
    }, 60);
  }

  private seen(name: string) {
    return secondFigures(join(this.demo.folder, 'carrier.journal'), (words) => words.startsWith(`${name}. `));
  }

  /** What differs between a run's figures and the second implementation's, in words; nothing when all are equal. */
  async differences(): Promise<string[]> {
    const wrong: string[] = [];
    for (const made of this.made) {
      const says = await this.says(made.id);
      const seen = this.seen(made.name);
      const { tally } = says;
      const equal = (what: string, ours: number, theirs: number, within = 0) => {
        if (Math.abs(ours - theirs) > within) wrong.push(`${made.name}: ${what} ${ours}, by the journal ${theirs}`);
      };
      equal(
        'people',
        Object.values(tally).reduce((a, b) => a + b, 0),
        made.people,
      );
      equal('delivered', tally.delivered ?? 0, seen.delivered);
      equal('expired', tally.expired ?? 0, seen.expired);
      // what the carrier refused never came into its journal
      const refused = made.people - seen.texts.size - (tally.not_sent ?? 0);
      equal('not delivered', tally.not_delivered ?? 0, seen.notDelivered + refused);
      equal('parts', says.money.parts, seen.parts);
      equal('cost', says.money.spent, seen.parts * 7500);
      equal('clicks', says.clicks.clicked, made.clicked);
      equal('answers', says.answers.people, made.answered);
      equal('opted out', says.opted_out, made.stopped);
      equal(
        'texts with a delay',
        says.delays.reduce((sum, { n }) => sum + n, 0),
        seen.delivered,
      );
      // both clocks stand at the ends of the same wire: halves of the minutes, weighed by how many they are of, lie in the middle third of the
      // journal's within seconds, also where some texts fall into another minute at the one end than at the other; where a kill has parted
      // them into quick and late ones, which of them the very half is hangs on a single text
      const weighed = (minutes: readonly { delay: number; n: number }[]) =>
        minutes.reduce((sum, { delay, n }) => sum + delay * n, 0) / Math.max(1, seen.delivered);
      const theirs = byMinute(seen.delays);
      const ours = weighed(says.delays.map(({ half, n }) => ({ delay: half, n })));
      const least = weighed(theirs.map(({ least: delay, n }) => ({ delay, n })));
      const most = weighed(theirs.map(({ most: delay, n }) => ({ delay, n })));
      const nearest = Math.min(Math.max(ours, least), most);
      if (this.timesToo) equal('half of the delays, s', ours, nearest, 2 + nearest * 0.3);
    }
    return wrong;
  }

  /** Delays are times: on a machine that is busy with something else a text may be known as accepted late, so only the long rounds hold them. */
  timesToo = false;

  get count(): number {
    return this.made.length;
  }
}
