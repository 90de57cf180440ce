// Starts the database thread from TypeScript source (tests, dev). The bundle has store-worker.js instead.
import { register } from 'tsx/esm/api';

register();
await import('./store-worker.ts');
