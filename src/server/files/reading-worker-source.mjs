// Starts the reading thread from TypeScript source (tests, dev). The bundle has reading-worker.js instead.
import { register } from 'tsx/esm/api';

register();
await import('./reading-worker.ts');
