import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { reach } from './reach-address';

/** Loopback stands for the internet here: nothing else is asked. */
let server: Server;
let host = '';
const asked: string[] = [];
beforeAll(async () => {
  server = createServer((request, response) => {
    asked.push(`${request.method} ${request.url}`);
    if (request.url === '/drips') {
      // headers without end, a little at a time: never silent, and never an answer
      const { socket } = request;
      socket.write('HTTP/1.1 200 OK\r\n');
      const drip = setInterval(() => socket.write('x-drip: 1\r\n'), 5);
      socket.on('close', () => clearInterval(drip)).on('error', () => undefined);
      return;
    }
    const status = Number(/\d+/.exec(request.url ?? '')?.[0] ?? 200);
    if (request.url === '/no-head' && request.method === 'HEAD') response.writeHead(405).end();
    else response.writeHead(request.url === '/no-head' ? 200 : status, { location: 'http://127.0.0.1:1/' }).end();
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  host = `127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => new Promise((resolve) => server.close(resolve)));

describe('whether a link answers', () => {
  test.each([
    ['/200', 'yes'],
    ['/302', 'yes'],
    ['/no-head', 'yes'],
    ['/404', 'no'],
    ['/410', 'no'],
    ['/503', 'no'],
    ['/403', 'unknown'],
  ])('%s: %s', async (path, answers) => {
    expect((await reach(`http://${host}${path}`, [host])).answers).toBe(answers);
  });

  test('where it leads on to is not followed, and nothing is asked of a private network', async () => {
    asked.length = 0;
    await reach(`http://${host}/302`, [host]);
    expect(asked).toEqual(['HEAD /302']);
    asked.length = 0;
    const inside = [
      `http://${host}/`,
      `http://localhost:${host.split(':')[1]}/`,
      'http://10.0.0.1/',
      'http://[::1]/',
      'http://169.254.169.254/',
    ];
    for (const address of [...inside, 'http://[::ffff:127.0.0.1]/', 'http://0x7f.1/', 'http://100.64.0.1/'])
      expect(await reach(address), address).toMatchObject({
        answers: 'no',
        why: expect.stringContaining('private network') as string,
      });
    expect(asked).toEqual([]);
  });

  test('a page that drips is not waited for beyond its time', async () => {
    expect(await reach(`http://${host}/drips`, [host], 200)).toMatchObject({
      answers: 'no',
      why: expect.stringContaining('did not answer within') as string,
    });
  });

  test('nobody there, and no address at all', async () => {
    expect(await reach('http://127.0.0.1:1/', ['127.0.0.1:1'])).toEqual({ answers: 'no', why: 'nobody answers there' });
    for (const address of ['javascript:alert(1)', 'ftp://example.org/', 'not an address'])
      expect((await reach(address)).answers).toBe('no');
  });
});
