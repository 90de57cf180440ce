import { parentPort } from 'node:worker_threads';
import { readerWith, readRows, type RowReader } from '../../../core/people/read-rows';
import type { FromRowWorker, ToRowWorker } from './row-thread';

/** The far end of `RowThread`: one batch after the other, by the last rules given. */
const port = parentPort;
if (!port) throw new Error('This file is the row thread and is started by row-thread.ts.');

let reader: RowReader | undefined;
port.on('message', ({ id, rules, rows }: ToRowWorker) => {
  const answer = (said: FromRowWorker) => port.postMessage(said);
  try {
    if (rules) reader = readerWith(rules);
    if (!reader) throw new Error('Rows came before their rules.');
    answer({ id, read: readRows(reader, rows) });
  } catch (error) {
    answer({ id, trouble: error instanceof Error ? (error.stack ?? error.message) : String(error) });
  }
});
