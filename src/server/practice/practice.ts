import { spawn, type ChildProcess } from 'node:child_process';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';

export interface Practice {
  /** Port of its SMPP server; stays the same over restarts. */
  port: number;
  controlUrl: string;
  /** Port of its mailbox. */
  mailPort: number;
  stop(): void;
}

/**
 * Starts the practice carrier as a process of its own and watches it: if it ends, it is started again on the same
 * ports, with its journal. `command` is what to run (a bundle, or tsx and a source file).
 */
export async function startPractice(options: {
  journal: string;
  offset: () => number;
  /** Where answers out of its mailbox are taken to. */
  answersPort?: number;
  profile?: string;
  log: (message: string) => void;
}): Promise<Practice> {
  const fromSource = import.meta.url.endsWith('.ts');
  const args = fromSource
    ? ['--import', 'tsx', fileURLToPath(new URL('../../carrier/main.ts', import.meta.url))]
    : [fileURLToPath(new URL('./carrier.js', import.meta.url))];
  let stopped = false;
  let child: ChildProcess | undefined;
  let ports: { port: number; control: number; mail: number } = { port: 0, control: 0, mail: 0 };
  let wait = 200;

  const start = (): Promise<void> =>
    new Promise((resolve, reject) => {
      child = spawn(process.execPath, args, {
        stdio: ['pipe', 'pipe', 'inherit'],
        env: {
          ...process.env,
          CARRIER_PORT: String(ports.port),
          CARRIER_CONTROL_PORT: String(ports.control),
          CARRIER_MAIL_PORT: String(ports.mail),
          CARRIER_ANSWERS_PORT: String(options.answersPort ?? 0),
          CARRIER_JOURNAL: options.journal,
          CARRIER_OFFSET: String(options.offset()),
          CARRIER_PROFILE: options.profile ?? '{}',
        },
      });
      if (child.stdout) {
        createInterface({ input: child.stdout }).on('line', (line) => {
          const said = JSON.parse(line) as typeof ports;
          ports = { port: said.port, control: said.control, mail: said.mail };
          wait = 200;
          resolve();
        });
      }
      child.once('error', reject);
      child.once('exit', () => {
        if (stopped) return;
        options.log('the practice carrier ended; starting it again');
        setTimeout(() => void start().catch(() => undefined), (wait = Math.min(wait * 2, 10_000)));
      });
    });
  await start();
  return {
    port: ports.port,
    mailPort: ports.mail,
    controlUrl: `http://127.0.0.1:${ports.control}`,
    stop() {
      stopped = true;
      child?.kill();
    },
  };
}
