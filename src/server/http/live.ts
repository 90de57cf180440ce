import type { ServerResponse } from 'node:http';
import type { Change } from '../desk/bus';
import type { App } from '../app-context';
import { Problem } from './problem';

const GATHER = 250;
/** A browser holds a few pages open; more streams of one session are something else. */
const MOST_OF_A_SESSION = 12;
const MOST = 400;
/** How often it is looked whether the session is still good, ms. */
const STILL_GOOD = 20_000;

/** The event streams that are open, by session, so that signing out ends them. */
export class LiveStreams {
  private readonly open = new Map<string, Set<() => void>>();

  /**
   * Server-sent events (HTML Living Standard, §9.2): which things changed, gathered for a quarter of a second; the page asks again for
   * what it shows. `good` tells whether the session still is; `since`, the moment up to which the page knows: what it missed after that is told
   * first, and where that is not known any more, that it may be anything (`"all"`).
   * @throws Problem 429 when there are too many already
   */
  begin(app: Pick<App, 'bus'>, token: string, response: ServerResponse, good: () => Promise<boolean>, since?: string): void {
    const mine = this.open.get(token) ?? new Set<() => void>();
    const all = [...this.open.values()].reduce((sum, each) => sum + each.size, 0);
    if (mine.size >= MOST_OF_A_SESSION || all >= MOST)
      throw new Problem(429, 'too-many-streams', 'Too many pages are open at once.', { act: 'Close some of them.' });
    response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' });
    response.write('retry: 1000\n\n');
    const gathered = new Map<string, Change>();
    let timer: NodeJS.Timeout | undefined;
    let over = false;
    // what is being looked at now: nothing is told before it is known that the session still is
    let sure: Promise<unknown> = Promise.resolve();
    const look = (): void => {
      sure = good().then((still) => still || stop(), stop);
    };
    const flush = () => {
      timer = undefined;
      void sure.then(() => {
        if (over) return;
        response.write(`id: ${app.bus.moment}\ndata: ${JSON.stringify([...gathered.values()])}\n\n`);
        gathered.clear();
      });
    };
    const heard = (change: Change) => {
      if (change.topic === 'account') look();
      gathered.set(`${change.topic}|${change.id ?? ''}`, change);
      timer ??= setTimeout(flush, GATHER);
    };
    app.bus.on('change', heard);
    const missed = since === undefined ? [] : app.bus.since(since);
    if (missed) missed.forEach(heard);
    response.write(missed ? `id: ${since ?? app.bus.moment}\n\n` : `id: ${app.bus.moment}\ndata: "all"\n\n`);
    const alive = setInterval(() => {
      response.write(': alive\n\n');
      look();
    }, STILL_GOOD);
    // everything that writes stops before the end: a slow reader may close long after it, and writing then is an error of ours
    const stop = () => {
      over = true;
      app.bus.off('change', heard);
      clearInterval(alive);
      clearTimeout(timer);
      mine.delete(stop);
      if (mine.size === 0 && this.open.get(token) === mine) this.open.delete(token);
      response.end();
    };
    this.open.set(token, mine.add(stop));
    // of the answer, not of the request: it closes from either side
    response.on('close', stop);
  }

  /** Ends the streams of a session that was signed out. */
  end(token: string): void {
    for (const stop of [...(this.open.get(token) ?? [])]) stop();
  }
}
