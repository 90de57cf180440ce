import { createServer, type Server } from 'node:net';
import { afterEach, expect, test } from 'vitest';
import { openPostgres } from './postgres';
import { isPassing } from './db-error';

/** Messages of the PostgreSQL protocol (version 3, "Message Formats"): a letter, the length with itself, the content. */
const message = (letter: string, ...content: Buffer[]) => {
  const body = Buffer.concat(content);
  const head = Buffer.alloc(5, letter);
  head.writeInt32BE(body.length + 4, 1);
  return Buffer.concat([head, body]);
};
const text = (words: string) => Buffer.from(`${words}\0`);
const AUTHENTICATED = message('R', Buffer.alloc(4));
const READY = message('Z', Buffer.from('I'));
const ENDED = message(
  'E',
  text('SFATAL'),
  text('C57P01'),
  text('Mterminating connection due to administrator command'),
  Buffer.alloc(1),
);

let server: Server | undefined;
afterEach(() => server?.close());

/** A server of one connection that works; every later one is ended in the very packet that says it is ready. */
function endsEachButTheFirst(): Promise<string> {
  let connections = 0;
  server = createServer((socket) => {
    socket.on('error', () => undefined);
    const first = (connections += 1) === 1;
    let begun = false;
    socket.on('data', (data) => {
      if (!begun) {
        begun = true;
        socket.write(Buffer.concat([AUTHENTICATED, READY, ...(first ? [] : [ENDED])]));
        if (!first) socket.end();
      } else if (data[0] === 0x51) socket.write(Buffer.concat([message('C', text('SELECT 0')), READY]));
      else if (data[0] === 0x58) socket.end();
    });
  });
  return new Promise((resolve) =>
    server?.listen(0, '127.0.0.1', () => {
      const address = server?.address();
      resolve(`postgres://bell@127.0.0.1:${typeof address === 'object' ? address?.port : 0}/bell`);
    }),
  );
}

test('a connection that is ended as it is handed over ends nothing but the work it was for', async () => {
  const db = await openPostgres(await endsEachButTheFirst());
  const work = db.lane('dispatch');
  const ended = { name: 'DbError', code: '57P01' };
  const refused = await work.transaction((tx) => tx.query('SELECT 1')).catch((error: unknown) => error);
  expect(refused).toMatchObject(ended);
  expect(isPassing(refused)).toBe(true);
  const streamed = await (async () => {
    for await (const rows of work.stream('SELECT 1', [], 10)) expect(rows).toBeUndefined();
  })().catch((error: unknown) => error);
  expect(streamed).toMatchObject(ended);
  await expect(work.query('SELECT 1')).rejects.toSatisfy(isPassing);
  await db.close();
});
