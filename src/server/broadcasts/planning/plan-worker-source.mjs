// Starts the plan thread from TypeScript source (tests, dev). The bundle has plan-worker.js instead.
import { register } from 'tsx/esm/api';

register();
await import('./plan-worker.ts');
