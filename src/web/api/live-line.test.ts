import { beforeEach, expect, test } from 'vitest';
import { LiveLine, type Around, type Heard } from './live-line';

/** A stream by hand. */
class Stream {
  readyState = 0;
  onopen: (() => void) | undefined;
  onmessage: ((event: { data: string; lastEventId: string }) => void) | undefined;
  onerror: (() => void) | undefined;
  constructor(readonly address: string) {
    streams.push(this);
  }
  opens() {
    this.readyState = 1;
    this.onopen?.();
  }
  tells(lastEventId: string, changes: Heard) {
    this.onmessage?.({ data: JSON.stringify(changes), lastEventId });
  }
  /** `forGood`: an answer that is none, after which a browser does not try again. */
  breaks(forGood: boolean) {
    this.readyState = forGood ? 2 : 0;
    this.onerror?.();
  }
  close() {
    this.readyState = 2;
  }
}

let streams: Stream[];
let channels: { onmessage?: (event: { data: unknown }) => void; closed: boolean }[];
let waiting: { ms: number; act: () => void }[];
let queue: (() => void)[];
let held: boolean;
beforeEach(() => {
  [streams, channels, waiting, queue, held] = [[], [], [], [], false];
});

/** What the tabs of one browser have around them. */
function around(locks = true): Around {
  return {
    open: (address) => new Stream(address) as unknown as EventSource,
    locks: locks
      ? ({
          request: (_name: string, { signal }: { signal: AbortSignal }, act: () => Promise<void>) =>
            new Promise<void>((resolve, reject) => {
              const begin = () => {
                if (signal.aborted) return reject(new Error('aborted'));
                held = true;
                void act().then(() => {
                  held = false;
                  queue.shift()?.();
                  resolve();
                });
              };
              if (held) queue.push(begin);
              else begin();
            }),
        } as unknown as LockManager)
      : undefined,
    channel: () => {
      const own: (typeof channels)[number] = { closed: false };
      channels.push(own);
      return Object.assign(own, {
        postMessage: (data: unknown) => {
          for (const each of channels) if (each !== own && !each.closed) each.onmessage?.({ data });
        },
        close: () => (own.closed = true),
      }) as unknown as BroadcastChannel;
    },
    later: (ms, act) => {
      const one = { ms, act };
      waiting.push(one);
      return () => void (waiting = waiting.filter((each) => each !== one));
    },
    chance: () => 1,
  };
}
function page(moment: string, place = around()) {
  const heard: Heard[] = [];
  const stale: boolean[] = [];
  const line = new LiveLine(
    moment,
    (changes) => heard.push(changes),
    (is) => stale.push(is),
    place,
  );
  return { line, heard, stale };
}
const wait = () => {
  const [first] = waiting.splice(0);
  first.act();
  return first.ms;
};

test('of seven tabs one has the stream, and all hear', () => {
  const tabs = Array.from({ length: 7 }, () => page('a-1'));
  expect(streams.map(({ address }) => address)).toEqual(['/api/live?since=a-1']);
  streams[0].opens();
  streams[0].tells('a-2', [{ topic: 'replies' }]);
  expect(tabs.map(({ heard }) => heard)).toEqual(Array.from({ length: 7 }, () => [[{ topic: 'replies' }]]));
});

test('the tab with the stream is closed: another takes it up where it stood', async () => {
  const [first, second] = [page('a-1'), page('a-1')];
  streams[0].opens();
  streams[0].tells('a-5', [{ topic: 'run', id: 3 }]);
  first.line.end();
  await Promise.resolve();
  await Promise.resolve();
  expect(streams.map(({ address }) => address)).toEqual(['/api/live?since=a-1', '/api/live?since=a-5']);
  streams[1].opens();
  streams[1].tells('a-6', [{ topic: 'balance' }]);
  expect(second.heard.at(-1)).toEqual([{ topic: 'balance' }]);
  expect(first.heard).toHaveLength(1);
});

test('a tab that comes between two words asks everything again, one that knows as much does not', () => {
  page('a-1');
  streams[0].opens();
  streams[0].tells('a-9', [{ topic: 'run' }]);
  expect(page('a-4').heard).toEqual(['all']);
  expect(page('a-9').heard).toEqual([]);
});

test('a stream that ends for good is opened again, later each time, from where it stood; meanwhile it is said', () => {
  const { stale, heard } = page('a-1', around(false));
  streams[0].opens();
  streams[0].tells('a-2', [{ topic: 'runs' }]);
  streams[0].breaks(true);
  expect(stale).toEqual([true]);
  expect(wait()).toBe(1000);
  streams[1].breaks(true);
  expect(wait()).toBe(2000);
  expect(streams.map(({ address }) => address.split('=')[1])).toEqual(['a-1', 'a-2', 'a-2']);
  streams[2].opens();
  expect(stale).toEqual([true, false]);
  // the server has started anew, and does not know that moment
  streams[2].tells('b-0', 'all');
  expect(heard.at(-1)).toBe('all');
});

test('after an error that the browser mends by itself nothing is opened a second time', () => {
  const { stale } = page('a-1', around(false));
  streams[0].opens();
  streams[0].breaks(false);
  streams[0].opens();
  expect([streams.length, stale]).toEqual([1, [true, false]]);
});

test('one that never comes is said after a while; ended, nothing is tried any more', () => {
  const { line, stale } = page('a-1', around(false));
  expect(stale).toEqual([]);
  wait();
  expect(stale).toEqual([true]);
  streams[0].breaks(true);
  line.end();
  expect(waiting).toEqual([]);
});
