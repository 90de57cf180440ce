import { EventEmitter } from 'node:events';
import type { Socket } from 'node:net';
import { STATUS, type CommandName, type TlvValues } from './commands';
import { encodePdu } from './encode';
import { decodePdu, Framer, MalformedPdu, responseOf, type Pdu } from './pdu';

/** Why a request got no answer. `written` false means that it never left: it is safe to try again. */
export class NoAnswer extends Error {
  constructor(
    message: string,
    readonly written: boolean,
  ) {
    super(message);
    this.name = 'NoAnswer';
  }
}

export interface SessionOptions {
  /** Most requests of ours without an answer. */
  window: number;
  /** Milliseconds after which an unanswered request breaks the session: the answer may still have been lost. */
  responseTimeout: number;
  /** Milliseconds of silence after which we ask whether the other end lives (§2.9 enquire_link_timer). */
  enquireAfter: number;
}

export const DEFAULTS: SessionOptions = { window: 50, responseTimeout: 10_000, enquireAfter: 15_000 };

interface Waiting {
  resolve: (pdu: Pdu) => void;
  reject: (error: Error) => void;
  timer: NodeJS.Timeout;
}

type Distribute<T> = T extends unknown ? Omit<T, 'sequence'> : never;
export type Unsent = Distribute<Pdu>;

/**
 * One SMPP connection, either end. Emits `request` (a PDU the other end wants answered) and `closed` (with the reason).
 * A session is used once; after it is closed a new one is made.
 */
export class Session extends EventEmitter<{ request: [Pdu]; closed: [string] }> {
  private readonly framer = new Framer();
  private readonly waiting = new Map<number, Waiting>();
  private readonly options: SessionOptions;
  private sequence = 0;
  private lastHeard = Date.now();
  private readonly heartbeat: NodeJS.Timeout;
  private ended: string | undefined;

  constructor(
    private readonly socket: Socket,
    options: Partial<SessionOptions> = {},
  ) {
    super();
    this.options = { ...DEFAULTS, ...options };
    socket.setNoDelay(true);
    socket.on('data', (chunk) => this.receive(chunk));
    socket.on('error', (error) => this.end(error.message));
    socket.on('close', () => this.end('the line was closed'));
    this.heartbeat = setInterval(() => this.beat(), Math.max(50, this.options.enquireAfter / 3));
    this.heartbeat.unref();
  }

  get closed(): boolean {
    return this.ended !== undefined;
  }

  /** How many more requests may be on their way now. */
  get free(): number {
    return this.closed ? 0 : Math.max(0, this.options.window - this.waiting.size);
  }

  /**
   * Sends a request and resolves with its response (whatever its status).
   * @throws NoAnswer; its `written` tells whether the other end may have it
   */
  request(pdu: Unsent): Promise<Pdu> {
    if (this.ended !== undefined) return Promise.reject(new NoAnswer(this.ended, false));
    this.sequence = this.sequence >= 0x7fffffff ? 1 : this.sequence + 1; // §5.1.4
    const sequence = this.sequence;
    let octets: Buffer;
    try {
      octets = encodePdu({ ...pdu, sequence } as Pdu);
    } catch (error) {
      return Promise.reject(error as Error);
    }
    return new Promise((resolve, reject) => {
      const timer = setTimeout(
        () => this.end(`no answer within ${this.options.responseTimeout / 1000} s`),
        this.options.responseTimeout,
      );
      this.waiting.set(sequence, { resolve, reject, timer });
      this.write(octets);
    });
  }

  /** Answers a request of the other end. */
  respond(request: Pdu, status: number, fields: Record<string, string | number> = {}, tlvs?: TlvValues): void {
    const command = responseOf(request.command);
    if (!command || this.ended !== undefined) return;
    const answer = { command, status, sequence: request.sequence, fields: { message_id: '', ...fields }, tlvs } as unknown as Pdu;
    this.write(encodePdu(answer));
  }

  /** Says goodbye (§4.2) and closes; gives the other end a moment to answer. */
  async unbind(): Promise<void> {
    if (this.closed) return;
    await Promise.race([
      this.request({ command: 'unbind', status: 0, fields: {} }),
      new Promise((resolve) => setTimeout(resolve, 500)),
    ]).catch(() => undefined);
    this.end('we hung up');
  }

  /** Cuts the line at once. */
  destroy(reason = 'the line was cut'): void {
    this.end(reason);
  }

  private beat(): void {
    if (Date.now() - this.lastHeard < this.options.enquireAfter) return;
    this.lastHeard = Date.now(); // one question per period; its own response timer decides
    this.request({ command: 'enquire_link', status: 0, fields: {} }).catch(() => undefined);
  }

  private receive(chunk: Buffer): void {
    this.lastHeard = Date.now();
    try {
      for (const octets of this.framer.push(chunk)) {
        if (this.ended !== undefined) return;
        this.take(octets);
      }
    } catch (error) {
      if (!(error instanceof MalformedPdu)) throw error;
      this.nack(error);
      this.end(error.message); // framing is lost, nothing after it can be trusted
    }
  }

  private take(octets: Buffer): void {
    let pdu: Pdu;
    try {
      pdu = decodePdu(octets);
    } catch (error) {
      if (!(error instanceof MalformedPdu)) throw error;
      const waiting = this.waiting.get(error.sequence);
      // a broken answer to our request: we cannot know what it said, so the line is of no more use
      if (waiting && (octets.readUInt32BE(4) & 0x80000000) !== 0)
        return this.end(`an answer could not be read: ${error.message}`);
      this.nack(error);
      return;
    }
    if (pdu.command === 'enquire_link') return this.respond(pdu, STATUS.ok);
    if (pdu.command === 'unbind') {
      this.respond(pdu, STATUS.ok);
      return this.end('the other end hung up');
    }
    if (isResponse(pdu.command)) {
      const waiting = this.waiting.get(pdu.sequence);
      if (!waiting) return; // late or never asked
      this.waiting.delete(pdu.sequence);
      clearTimeout(waiting.timer);
      waiting.resolve(pdu);
      return;
    }
    this.emit('request', pdu);
  }

  private nack(error: MalformedPdu): void {
    if (!this.socket.destroyed)
      this.socket.write(encodePdu({ command: 'generic_nack', status: error.status, sequence: error.sequence, fields: {} }));
  }

  /** What is written in one turn goes in one call to the operating system: a window of fifty is no fifty of them. */
  private write(octets: Buffer): void {
    if (this.socket.writableCorked === 0) {
      this.socket.cork();
      process.nextTick(() => this.socket.uncork());
    }
    this.socket.write(octets);
  }

  private end(reason: string): void {
    if (this.ended !== undefined) return;
    this.ended = reason;
    clearInterval(this.heartbeat);
    for (const { reject, timer } of this.waiting.values()) {
      clearTimeout(timer);
      reject(new NoAnswer(reason, true));
    }
    this.waiting.clear();
    this.socket.end();
    this.socket.destroySoon();
    this.emit('closed', reason);
  }
}

function isResponse(command: CommandName): boolean {
  return responseOf(command) === undefined;
}
