// Starts the database thread from TypeScript source (tests, dev). The bundle has embedded-worker.js instead.
import { register } from 'tsx/esm/api';

register();
await import('./embedded-worker.ts');
