// Starts the row thread from TypeScript source (tests, dev). The bundle has row-worker.js instead.
import { register } from 'tsx/esm/api';

register();
await import('./row-worker.ts');
