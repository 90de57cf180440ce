import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { readJournal } from '../../src/carrier/journal';
import { readPart } from '../../src/core/text/air';
import { decodePdu } from '../../src/smpp/pdu';
import { Desk, until } from './desk';
import { openDemo, type Demo } from './demo';

/** Rounds of kill -9, counted in the message center's journal. */
export interface Round {
  killed: 'server' | 'carrier' | 'both';
  people: number;
  /** Numbers that were handed over more than once. */
  twice: string[];
  tally: Record<string, number>;
}

type Broadcast = { draft: Record<string, unknown>; version: number };

function carrierPid(demo: Demo): number {
  return Number(
    execFileSync('pgrep', ['-P', String(demo.child.pid)], { encoding: 'utf8' })
      .trim()
      .split('\n')[0],
  );
}

export class Rounds {
  private sender = 0;
  private list = 0;
  constructor(
    public demo: Demo,
    private desk: Desk,
    private readonly environment: Record<string, string>,
  ) {}

  static async on(demo: Demo, environment: Record<string, string>): Promise<Rounds> {
    const rounds = new Rounds(demo, await new Desk(demo.url).signIn(), environment);
    rounds.sender = (
      await rounds.desk.ask<{ id: number }>('POST', '/api/setup/senders', {
        name: 'Fast',
        kind: 'short',
        address: '72399',
        parts_per_second: 1000,
      })
    ).id;
    const sources = await rounds.desk.ask<{ lists: { id: number; name: string }[] }>('GET', '/api/people/sources');
    rounds.list = sources.lists.find((each) => each.name === 'Morning boat regulars')?.id ?? 0;
    return rounds;
  }

  /** Presses a broadcast of about 590 texts, kills after `afterMs` of sending, brings everything back, and settles. */
  async run(name: string, kill: Round['killed'], afterMs: number, echo: boolean): Promise<Round> {
    const { desk } = this;
    const { id } = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name, list_id: this.list });
    const made = await desk.ask<Broadcast>('GET', `/api/broadcasts/${id}`);
    const draft = { ...made.draft, words: `${name}. Ottermere Ferry`, sender_id: this.sender };
    const { version } = await desk.ask<{ version: number }>('PUT', `/api/broadcasts/${id}`, {
      name,
      draft,
      version: made.version,
    });
    const { digest, plan } = await desk.ask<{ digest: string; plan: { people: number } }>('POST', `/api/broadcasts/${id}/plan`, {
      draft,
    });
    const { run_id } = await desk.ask<{ run_id: number }>('POST', `/api/broadcasts/${id}/press`, {
      version,
      digest,
      press_id: `round-${name.replace(/\W/g, '')}`,
    });
    await desk.ask('POST', '/api/clock', { minutes: 1 }); // past the seconds in which it can be taken back
    await new Promise((resolve) => setTimeout(resolve, afterMs));
    if (kill !== 'server') process.kill(carrierPid(this.demo), 'SIGKILL');
    if (kill !== 'carrier') {
      await this.demo.stop('SIGKILL');
      this.demo = await openDemo(this.demo.folder, this.environment);
      this.desk = this.desk.at(this.demo.url);
    }
    const tally = await until(async () => {
      const { tally, run } = await this.desk.ask<{ tally: Record<string, number>; run: { state: string } }>(
        'GET',
        `/api/runs/${run_id}`,
      );
      const moving =
        (tally.planned ?? 0) + (tally.handing_over ?? 0) + (tally.with_carrier ?? 0) + (echo ? (tally.uncertain ?? 0) : 0);
      return run.state === 'finished' && moving === 0 && tally;
    });
    const numbers = new Map<string, number>();
    for (const line of readJournal(join(this.demo.folder, 'carrier.journal'))) {
      if (line.what !== 'submit') continue;
      const pdu = decodePdu(Buffer.from(line.pdu, 'hex'));
      if (pdu.command === 'submit_sm' && readPart(pdu.fields).text.startsWith(`${name}.`))
        numbers.set(line.number, (numbers.get(line.number) ?? 0) + 1);
    }
    return { killed: kill, people: plan.people, twice: [...numbers].filter(([, n]) => n > 1).map(([number]) => number), tally };
  }
}
