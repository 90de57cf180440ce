// Starts the thread of what is handed in from TypeScript source (tests, dev). The bundle has handed-in-worker.js instead.
import { register } from 'tsx/esm/api';

register();
await import('./worker.ts');
