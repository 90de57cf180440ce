import { controlApp } from './control';
import { Mailbox } from './mailbox';
import { MessageCenter } from './message-center';
import { DEMO_PROFILE, type Profile } from './profile';
import { keepIdleLines } from '../core/idle-lines';

/**
 * The practice carrier as a process of its own. Settings by environment:
 * CARRIER_PORT, CARRIER_CONTROL_PORT, CARRIER_MAIL_PORT, CARRIER_ANSWERS_PORT (where answers out of the mailbox go), CARRIER_JOURNAL, CARRIER_OFFSET (ms ahead of the machine's clock),
 * CARRIER_PROFILE (JSON, merged over the demo's). Prints one JSON line with its ports when it is ready.
 */
let offset = Number(process.env.CARRIER_OFFSET ?? 0);
const center = new MessageCenter({
  host: '127.0.0.1',
  port: Number(process.env.CARRIER_PORT ?? 0),
  journal: process.env.CARRIER_JOURNAL ?? 'data/carrier.journal',
  systemId: 'bell',
  password: 'practice',
  profile: { ...DEMO_PROFILE, ...(JSON.parse(process.env.CARRIER_PROFILE ?? '{}') as Partial<Profile>) },
  now: () => Date.now() + offset,
});
const mailbox = new Mailbox({
  file: `${process.env.CARRIER_JOURNAL ?? 'data/carrier.journal'}.mails`,
  now: () => Date.now() + offset,
  answersPort: Number(process.env.CARRIER_ANSWERS_PORT ?? 0),
});
const port = await center.listen();
const mail = await mailbox.listen(Number(process.env.CARRIER_MAIL_PORT ?? 0));
const control = controlApp(center, mailbox, {
  offset: () => offset,
  set: (ms) => {
    offset = ms;
    center.moved();
  },
});
const server = control.listen(Number(process.env.CARRIER_CONTROL_PORT ?? 0), '127.0.0.1', () => {
  const address = server.address();
  process.stdout.write(
    `${JSON.stringify({ ready: true, port, mail, control: address && typeof address === 'object' ? address.port : 0 })}\n`,
  );
});
// the server asks on a line that it kept, also after a while in which it was busy: it must not be shut on it
keepIdleLines(server);
// the server that started us closes our input when it ends, however it ends
process.stdin.resume();
process.stdin.on('end', () => process.exit(0));
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, () => void center.close().then(() => process.exit(0)));
