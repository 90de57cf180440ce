import type { PGlite } from '@electric-sql/pglite';
import type { BackendMessage, DatabaseError } from 'pg-protocol/dist/messages';
import { Parser } from 'pg-protocol/dist/parser';

/** What becomes of one message's answer. */
export interface Hears {
  /** The values of a row in PostgreSQL's text form. */
  row?(values: readonly (string | null)[]): void;
  other?(message: BackendMessage): void;
}

/**
 * PostgreSQL's wire protocol (version 3) with the engine in this thread. What the engine answers is read by node-postgres's parser: the
 * package's own takes seven times as long as the engine does for its rows (measured: 22 of 27 µs a row of ten columns, against 2).
 */
export class Wire {
  constructor(
    private readonly pg: PGlite,
    private readonly notified: (channel: string, payload: string) => void,
  ) {}

  /** Messages that end with a Sync or are one Query. @throws DatabaseError the first that the engine answered */
  async ask(messages: readonly Uint8Array[], hears: Hears = {}): Promise<void> {
    const parser = new Parser();
    const { row, other } = hears;
    const errors: DatabaseError[] = [];
    const take = (message: BackendMessage): void => {
      switch (message.name) {
        case 'dataRow':
          return row?.((message as BackendMessage & { fields: (string | null)[] }).fields);
        case 'error':
          return void errors.push(message as unknown as DatabaseError);
        case 'notification': {
          const { channel, payload } = message as BackendMessage & { channel: string; payload: string };
          return this.notified(channel, payload);
        }
        default:
          other?.(message);
      }
    };
    // what is given is the engine's own memory, which holds something else by the next piece; and it is read when the engine has said
    // everything: what is thrown on the way through it would leave it in the middle of its answer
    const pieces: Buffer[] = [];
    const onRawData = (piece: Uint8Array): void => void pieces.push(Buffer.from(piece));
    await this.pg.execProtocolRawStream(Buffer.concat(messages), { syncToFs: false, onRawData });
    for (const piece of pieces) parser.parse(piece, take);
    if (errors.length > 0) throw errors[0];
  }
}
