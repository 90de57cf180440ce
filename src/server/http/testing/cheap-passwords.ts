import { afterAll, beforeAll } from 'vitest';
import { COST } from '../passwords';

/** Passwords of a file's tests take no time; what they are hashed with is not what such tests are about. */
export function cheapPasswords(): void {
  const { N } = COST;
  beforeAll(() => void (COST.N = 16));
  afterAll(() => void (COST.N = N));
}
