import { keepIdleLines } from '../../../core/idle-lines';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';

export interface QuietCarrier {
  url: string;
  close(): Promise<unknown>;
}

/** The practice carrier's desk, as much of it as is asked: one phone with one text, and an empty mailbox. */
export async function quietCarrier(): Promise<QuietCarrier> {
  const server = createServer((request, response) => {
    response.setHeader('content-type', 'application/json');
    const screen = { direction: 'in', address: '72345', text: 'Hello', at: '2026-12-02T21:00:00Z', arrived: 1, total: 1 };
    if (request.url?.startsWith('/phones?'))
      response.end(JSON.stringify({ total: 1, phones: [{ number: '12075550142', lastAt: screen.at, texts: [screen] }] }));
    else if (request.url?.startsWith('/mails?')) response.end('{"mails":[]}');
    else if (/^\/mails\/\d+\/answer$/.test(request.url ?? '')) response.end('{"said":"250 taken"}');
    else if (request.url === '/lookup') response.end(JSON.stringify({ kinds: ['mobile', 'mobile', 'mobile'] }));
    else response.end('{}');
  });
  keepIdleLines(server);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    close: () => {
      server.closeAllConnections();
      return new Promise((resolve) => server.close(resolve));
    },
  };
}
