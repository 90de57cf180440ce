// The store's thread as it is, which says which thread of the operating system it is, and keeps what it was asked where BENCH_ASKED names a file.
import { readlinkSync, writeFileSync } from 'node:fs';
import { parentPort } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

const { BENCH_THREAD, BENCH_ASKED } = process.env;
writeFileSync(BENCH_THREAD, readlinkSync('/proc/thread-self'));
if (BENCH_ASKED) {
  const asked = [];
  parentPort.on('message', (request) => {
    if (request.kind === 'close') writeFileSync(BENCH_ASKED, asked.map((each) => JSON.stringify(each)).join('\n'));
    else asked.push(request.kind === 'copy' ? { ...request, data: Buffer.from(request.data).toString('latin1') } : request);
  });
}
register();
await import('../src/server/db/store/store-worker.ts');
