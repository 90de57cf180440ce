import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { readJournal } from '../src/carrier/journal';
import { readPart } from '../src/core/text/air';
import { decodePdu } from '../src/smpp/pdu';
import { Desk, until } from './desk';
import { openDemo, type Demo } from './demo';

/** In which part of a run's course the kill comes. */
export type Moment = 'planning' | 'takeback' | 'sending' | 'pausing' | 'canceling';

/** A round of kill -9, counted in the message center's journal. */
export interface Round {
  killed: 'server' | 'carrier' | 'both';
  moment: Moment;
  people: number;
  /** Numbers that were handed over more than once. */
  twice: string[];
  tally: Record<string, number>;
  /** The run is gone: its press was cut short before everything was stored, and it was undone. */
  undone: boolean;
  /** What the ledger says, and what the carrier took, in millionths. */
  spent: number;
  taken: number;
  /** Everyone has an end and a reason. */
  accounted: boolean;
}

type Broadcast = { draft: Record<string, unknown>; version: number };
interface RunSays {
  tally: Record<string, number>;
  run: { state: string; ended_at: string | null; called_off: boolean };
  reasons: { state: string; reason: string; n: number }[];
  money: { spent: number };
}

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
    private readonly everyone: boolean,
  ) {}

  static async on(demo: Demo, environment: Record<string, string>, everyone = false): Promise<Rounds> {
    const rounds = new Rounds(demo, await new Desk(demo.url).signIn(), environment, everyone);
    rounds.sender = (
      await rounds.desk.ask<{ id: number }>('POST', '/api/setup/senders', {
        name: 'Fast',
        kind: 'short',
        address: '72399',
        parts_per_second: 1000,
      })
    ).id;
    await rounds.desk.ask('POST', '/api/setup/balance', { amount_micro: 900_000_000 });
    const sources = await rounds.desk.ask<{ lists: { id: number; name: string }[] }>('GET', '/api/people/sources');
    rounds.list = sources.lists.find((each) => each.name === 'Morning boat regulars')?.id ?? 0;
    return rounds;
  }

  /** Presses a broadcast, kills at the moment (`afterMs` into it), brings everything back, and settles. */
  async run(name: string, kill: Round['killed'], moment: Moment, afterMs: number, echo: boolean): Promise<Round> {
    const made = await this.make(name);
    const before = await this.balance();
    const { run_id } = await this.desk.ask<{ run_id: number }>('POST', `/api/broadcasts/${made.id}/press`, {
      version: made.version,
      digest: made.digest,
      press_id: `round-${name.replace(/\W/g, '')}`,
    });
    const state = async () => (await this.desk.ask<RunSays>('GET', `/api/runs/${run_id}`)).run.state;
    if (moment !== 'planning') {
      await until(async () => (await state()) !== 'planning');
      if (moment !== 'takeback') await this.desk.ask('POST', '/api/clock', { minutes: 1 }); // past the seconds to take it back
    }
    await new Promise((resolve) => setTimeout(resolve, afterMs));
    const act = async (what: string) => this.desk.ask('POST', `/api/runs/${run_id}/${what}`, {}).catch(() => undefined);
    // not waited for: the kill comes while it is being done
    const acting = moment === 'pausing' ? act('pause') : moment === 'canceling' ? act('cancel-rest') : undefined;
    if (kill !== 'server') process.kill(carrierPid(this.demo), 'SIGKILL');
    if (kill !== 'carrier') {
      await this.demo.stop('SIGKILL');
      this.demo = await openDemo(this.demo.folder, this.environment);
      this.desk = this.desk.at(this.demo.url);
    }
    await acting;
    const undone = await this.startAgain(run_id, moment);
    const says = undone ? undefined : await this.settled(run_id, echo);
    const { twice, taken } = this.counted(name);
    const tally = says?.tally ?? {};
    const unsent = (says?.reasons ?? []).filter((each) => each.state === 'not_sent').reduce((sum, each) => sum + each.n, 0);
    return {
      killed: kill,
      moment,
      people: made.people,
      twice,
      tally,
      undone,
      // of its own run: the clock that is moved lets others be missed, and what was set aside for them comes back meanwhile
      spent: says ? says.money.spent : before - (await this.balance()),
      taken: taken * 7500,
      accounted: undone || (Object.values(tally).reduce((a, b) => a + b, 0) === made.people && (tally.not_sent ?? 0) === unsent),
    };
  }

  private async balance(): Promise<number> {
    return (await this.desk.ask<{ balance_micro: number }>('GET', '/api/session')).balance_micro;
  }

  private async make(name: string): Promise<{ id: number; version: number; digest: string; people: number }> {
    const { desk } = this;
    const { id } = await desk.ask<{ id: number }>('POST', '/api/broadcasts', { name, list_id: this.list });
    const made = await desk.ask<Broadcast>('GET', `/api/broadcasts/${id}`);
    const draft = {
      ...made.draft,
      to: this.everyone ? [{ kind: 'everyone' }] : made.draft.to,
      words: `${name}. Ottermere Ferry`,
      sender_id: this.sender,
    };
    const { version } = await desk.ask<{ version: number }>('PUT', `/api/broadcasts/${id}`, {
      name,
      draft,
      version: made.version,
    });
    const { digest, plan } = await desk.ask<{ digest: string; plan: { people: number } }>('POST', `/api/broadcasts/${id}/plan`, {
      draft,
    });
    return { id, version, digest, people: plan.people };
  }

  /** After the kill: a press that was cut short is undone; one that was not goes on past its seconds. */
  private async startAgain(runId: number, moment: Moment): Promise<boolean> {
    if (moment === 'sending') return false;
    return until(async () => {
      const says = await this.desk.ask<RunSays>('GET', `/api/runs/${runId}`).catch((error: unknown) => {
        if (error instanceof Error && error.message.includes(' 404 ')) return 'gone' as const;
        throw error;
      });
      if (says === 'gone') return { undone: true };
      if (says.run.state === 'waiting') await this.desk.ask('POST', '/api/clock', { minutes: 1 });
      if (says.run.state === 'paused') await this.desk.ask('POST', `/api/runs/${runId}/resume`, {});
      // what is called off is about to be gone
      return !says.run.called_off && ['sending', 'settling', 'finished', 'stopped'].includes(says.run.state) && { undone: false };
    }).then((found) => found.undone);
  }

  private settled(runId: number, echo: boolean): Promise<RunSays> {
    let moved = false;
    return until(async () => {
      const says = await this.desk.ask<RunSays>('GET', `/api/runs/${runId}`);
      const { tally } = says;
      const moving =
        (tally.planned ?? 0) + (tally.handing_over ?? 0) + (tally.with_carrier ?? 0) + (echo ? (tally.uncertain ?? 0) : 0);
      // of a part whose answer was lost nothing is heard after a day and an hour, and then it is settled, at the same time of day
      if (!echo && moving === 0 && (tally.uncertain ?? 0) > 0 && says.run.ended_at === null && !moved) {
        moved = true;
        for (let day = 0; day < 2; day += 1) await this.desk.ask('POST', '/api/clock', { minutes: 1440 });
      }
      return says.run.ended_at !== null && moving === 0 && says;
    }, 150);
  }

  private counted(name: string): { twice: string[]; taken: number } {
    const numbers = new Map<string, number>();
    for (const line of readJournal(join(this.demo.folder, 'carrier.journal'))) {
      if (line.what !== 'submit') continue;
      const pdu = decodePdu(Buffer.from(line.pdu, 'hex'));
      if (pdu.command === 'submit_sm' && readPart(pdu.fields).text.startsWith(`${name}.`))
        numbers.set(line.number, (numbers.get(line.number) ?? 0) + 1);
    }
    return {
      twice: [...numbers].filter(([, n]) => n > 1).map(([number]) => number),
      taken: [...numbers.values()].reduce((a, b) => a + b, 0),
    };
  }
}

/** What is broken in a round, in words; nothing when every promise held. */
export function broken(round: Round, echo: boolean, window: number): string[] {
  const uncertain = round.tally.uncertain ?? 0;
  return [
    ...(round.twice.length > 0 ? [`twice: ${round.twice.join(', ')}`] : []),
    ...(uncertain > (echo ? 0 : window) ? [`${uncertain} uncertain`] : []),
    ...(round.accounted ? [] : ['someone is not accounted for']),
    // what may have gone is paid for until it is known
    ...(round.spent < round.taken || round.spent > round.taken + uncertain * 7500
      ? [`${round.spent} paid, ${round.taken} taken`]
      : []),
    ...(round.undone && round.taken > 0 ? ['undone, and something went'] : []),
    ...(!round.undone && round.moment !== 'canceling' && (round.tally.delivered ?? 0) + uncertain !== round.people
      ? ['not everyone got it']
      : []),
  ];
}
