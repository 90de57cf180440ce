import { spawnSync } from 'node:child_process';
import type { Dice } from '../src/core/line/simulator/dice';
import { openPostgres } from '../src/server/db/postgres';
import { startPostgres } from '../src/server/db/testing/global';
import { forget, freshDemo, openDemo, type Demo } from './demo';
import { Desk, until } from './desk';

export type Engine = 'embedded' | 'postgres';
type What = 'server' | 'carrier' | 'both' | 'backends' | 'refused';

/** The built demo on either engine, of which anything may be killed while people work at it. */
export class KilledDesk {
  private constructor(
    readonly engine: Engine,
    private demo: Demo,
    private desk: Desk,
    private readonly environment: Record<string, string>,
    private readonly postgres: Awaited<ReturnType<typeof startPostgres>> | undefined,
  ) {}

  /** @param environment of the demo; what it gets for its data is added. */
  static async open(engine: Engine, environment: Record<string, string>): Promise<KilledDesk> {
    const postgres = engine === 'postgres' ? await startPostgres() : undefined;
    const whole = { ...environment, ...(postgres && { DATABASE_URL: postgres.url }) };
    const folder = `/tmp/bell-trial-${process.pid}`;
    const demo = watched(postgres ? await openDemo(folder, whole) : await freshDemo(whole));
    return new KilledDesk(engine, demo, await new Desk(demo.url).signIn(), whole, postgres);
  }

  get folder(): string {
    return this.demo.folder;
  }

  /**
   * Asked again until it is answered, as somebody does whose page could not reach the server; by the desk as it stands at that moment.
   * @throws Error with the status and the body when the answer is a refusal (4xx); after `seconds` without any answer
   */
  async ask<T>(method: string, path: string, body?: unknown, seconds = 180): Promise<T> {
    return this.patient((desk) => desk.ask<T>(method, path, body), seconds);
  }

  /** The same for a file's bytes. */
  async upload<T>(path: string, bytes: Uint8Array): Promise<T> {
    return this.patient((desk) => desk.upload<T>(path, bytes), 180);
  }

  private async patient<T>(what: (desk: Desk) => Promise<T>, seconds: number): Promise<T> {
    const end = Date.now() + seconds * 1000;
    for (;;)
      try {
        return await what(this.desk);
      } catch (error) {
        // days go by in a round, and whoever was signed in is so no more
        if (isRefusal(error) && error.message.includes(': 401 ')) await this.signIn();
        else if (isRefusal(error) || Date.now() > end) throw error;
        await new Promise((resolve) => setTimeout(resolve, 60));
      }
  }

  private async signIn(): Promise<void> {
    const { url } = this.demo;
    await new Desk(url).signIn().then(
      (desk) => {
        if (this.demo.url === url) this.desk = desk;
      },
      () => undefined, // asked again with what is asked
    );
  }

  /** At night nothing goes: then it is the next noon, by day in every zone of the demo. */
  async byDay(): Promise<void> {
    const { now } = await this.ask<{ now: string }>('GET', '/api/session');
    const hour = Number(
      new Intl.DateTimeFormat('en', { hour: '2-digit', hourCycle: 'h23', timeZone: 'America/New_York' }).format(new Date(now)),
    );
    if (hour < 12 || hour > 18) await this.ask('POST', '/api/clock', { minutes: ((36 - hour) % 24) * 60 });
  }

  /** Kills something by chance; on PostgreSQL also connections, or they are refused for a while. Says what it was. */
  async kill(dice: Dice): Promise<What> {
    const kinds: readonly What[] = ['server', 'carrier', 'both', ...(this.postgres ? (['refused', 'backends'] as const) : [])];
    const what = kinds[dice.between(0, kinds.length - 1)];
    if (what === 'carrier' || what === 'both') this.killCarrier();
    if (what === 'server' || what === 'both') {
      await this.demo.stop('SIGKILL');
      this.demo = watched(await openDemo(this.demo.folder, this.environment));
      this.desk = this.desk.at(this.demo.url);
    }
    if (this.postgres && (what === 'refused' || what === 'backends')) {
      const admin = await openPostgres(this.postgres.url.replace(/postgres$/, 'template1'));
      if (what === 'refused') await admin.query(`ALTER DATABASE postgres ALLOW_CONNECTIONS false`);
      await admin.query(`SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = 'postgres'`);
      await new Promise((resolve) => setTimeout(resolve, dice.between(100, 1500)));
      await admin.query(`ALTER DATABASE postgres ALLOW_CONNECTIONS true`);
      await admin.close();
    }
    return what;
  }

  /** The practice carrier; there is none while it is being started again. */
  private killCarrier(): void {
    const pids = spawnSync('pgrep', ['-P', String(this.demo.child.pid)], { encoding: 'utf8' }).stdout.split('\n');
    for (const pid of pids.filter((line) => line !== '').map(Number))
      try {
        process.kill(pid, 'SIGKILL');
      } catch {
        // it has ended in between
      }
  }

  /** Until it is so; what is asked while nothing answers counts as "not yet". */
  until<T>(look: () => Promise<T | undefined | false>, seconds = 300): Promise<T> {
    return until(look, seconds);
  }

  async close(): Promise<void> {
    await this.demo.stop();
    forget(this.demo);
    await this.postgres?.stop();
  }
}

/** The server has answered, and the answer is no. */
export function isRefusal(error: unknown): error is Error {
  return error instanceof Error && /: 4\d\d /.test(error.message);
}

/** A server that ends unasked is a fault, whatever it was doing. */
function watched(demo: Demo): Demo {
  demo.child.once('exit', (code, signal) => {
    if (signal || code === 0) return;
    process.stderr.write(`The server ended by itself with ${code}:\n${demo.said().slice(-4000)}\n`);
    process.exit(1);
  });
  return demo;
}
