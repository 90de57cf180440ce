import { runServer } from './main';

await runServer();
