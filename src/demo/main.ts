import { runServer } from '../server/main';
import { seedOttermere } from './seed';
import { DEMO_EMAIL, DEMO_PASSWORD } from './workspace';

await runServer(seedOttermere);
process.stdout.write(
  `Sign in as ${DEMO_EMAIL} with the password “${DEMO_PASSWORD}”. A damaged file to bring in: demo/files/summer-passes.csv\n`,
);
