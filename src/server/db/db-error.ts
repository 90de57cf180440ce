/** An error the database answered with; `code` is the SQLSTATE (PostgreSQL appendix A). */
export class DbError extends Error {
  constructor(
    message: string,
    readonly code?: string,
    readonly constraint?: string,
  ) {
    super(message);
    this.name = 'DbError';
  }
}

/** Something in the transaction had failed, and PostgreSQL made a ROLLBACK of its COMMIT (SQLSTATE 25P02, in_failed_sql_transaction). */
export const notCommitted = (): DbError => new DbError('The transaction was not committed: something in it had failed.', '25P02');

/** True for SQLSTATE 23505, unique_violation. */
export function isDuplicate(error: unknown): boolean {
  return error instanceof DbError && error.code === '23505';
}

/**
 * SQLSTATEs of trouble that passes by itself (PostgreSQL appendix A): connection exceptions (08), a serialization failure, a
 * deadlock, too many connections and what else runs short (53), a server that is shut down or starts up (57P01 to 57P03), a
 * statement that took too long (57014), a lock that was not free (55P03), and what the operating system refused (58).
 */
const PASSING = /^(?:08...|40001|40P01|53...|55P03|57014|57P0[1235]|58...)$/;
/** What Node says of a connection that broke or was refused, and what the driver says without any code. */
const CONNECTION = /^(?:ECONN|EPIPE|ETIMEDOUT|ENOTFOUND|EAI_|EHOST|ENET)/;
const WORDS =
  /connection (?:terminated|ended|timeout|error)|timeout exceeded when trying to connect|client (?:has encountered a connection error|was closed)|query read timeout|answer of the database was lost/i;

/**
 * Whether the same may go right when it is tried again in a while. The one place where that is decided; everything else is a
 * fault that lasts, and is shown to a person. A transaction that failed in passing may have happened: whoever tries again has a key
 * by which it is found.
 */
export function isPassing(error: unknown): boolean {
  if (error instanceof DbError && error.code !== undefined) return PASSING.test(error.code) || CONNECTION.test(error.code);
  if (!(error instanceof Error)) return false;
  const { code } = error as NodeJS.ErrnoException;
  return (code !== undefined && CONNECTION.test(code)) || WORDS.test(error.message);
}

/** Whether the database could not be reached at all: every page says so until it can. */
export function isAway(error: unknown): boolean {
  if (!isPassing(error)) return false;
  const code = error instanceof DbError ? error.code : (error as NodeJS.ErrnoException).code;
  return code === undefined ? WORDS.test((error as Error).message) : /^(?:08|57P0|E)/.test(code) || code === '53300';
}

/** What an operator has to see to, by what the operating system says (POSIX.1-2017, strerror) in the engine's words. */
const OF_THE_DISK: readonly [RegExp, string, string][] = [
  [/No space left on device/, 'The disk that holds the data is full.', 'Make room on it'],
  [/Read-only file system|Permission denied/, 'The folder that holds the data cannot be written.', 'Let the server write there'],
  [/is not there any more/, 'The folder that holds the data is not there any more.', 'Put it back in its place'],
  [/I\/O error|Input\/output error/, 'The disk that holds the data answers with errors.', 'Look at the disk'],
];

/** What is wrong with the disk below the database, and what to do about it; undefined where it is something else. */
export function diskTrouble(error: unknown): { title: string; act: string } | undefined {
  if (!(error instanceof DbError) || !isPassing(error)) return undefined;
  const found = OF_THE_DISK.find(([words]) => words.test(error.message));
  return found && { title: found[1], act: found[2] };
}
