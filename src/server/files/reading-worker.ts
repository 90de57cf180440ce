import { parentPort, workerData } from 'node:worker_threads';
import { openAsked } from './open-asked';
import type { FromReading, ReadingAsked } from './reading-thread';
import { UnreadableFile } from './table';

/**
 * The thread that reads one file: whatever the file holds, only this thread can be stopped by it. It gives a batch of rows and
 * waits until the next is asked for; see reading-thread.ts for the other end.
 */
const port = parentPort;
if (!port) throw new Error('This file is the reading thread and is started by reading-thread.ts.');
const asked = workerData as ReadingAsked;
const tell = (said: FromReading) => port.postMessage(said);

const next = () => new Promise<void>((resolve) => port.once('message', () => resolve()));

try {
  const { rows, ...facts } = await openAsked(asked);
  tell({ kind: 'open', facts: { ...facts, notes: [] } });
  for await (const batch of rows()) {
    tell({ kind: 'rows', batch });
    await next();
  }
  tell({ kind: 'end', notes: facts.notes });
} catch (error) {
  if (error instanceof UnreadableFile) tell({ kind: 'unreadable', message: error.message, place: error.place });
  else tell({ kind: 'failed', message: error instanceof Error ? (error.stack ?? error.message) : String(error) });
}
port.close();
