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

/** True for SQLSTATE 23505, unique_violation. */
export function isDuplicate(error: unknown): boolean {
  return error instanceof DbError && error.code === '23505';
}
