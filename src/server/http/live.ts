import type { Request, Response } from 'express';
import type { Change } from '../engine/bus';
import type { App } from './app-context';

const GATHER = 250;

/** Server-sent events: which things changed, gathered for a quarter of a second; the page asks again for what it shows. */
export function liveEvents(app: App, request: Request, response: Response): void {
  response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' });
  response.write('retry: 1000\n\n');
  const gathered = new Map<string, Change>();
  let timer: NodeJS.Timeout | undefined;
  const flush = () => {
    timer = undefined;
    response.write(`data: ${JSON.stringify([...gathered.values()])}\n\n`);
    gathered.clear();
  };
  const heard = (change: Change) => {
    gathered.set(`${change.topic}|${change.id ?? ''}`, change);
    timer ??= setTimeout(flush, GATHER);
  };
  app.bus.on('change', heard);
  const alive = setInterval(() => response.write(': alive\n\n'), 20_000);
  request.on('close', () => {
    app.bus.off('change', heard);
    clearInterval(alive);
    clearTimeout(timer);
  });
}
