import { HINTS } from './hints';
import { MUST_FIX } from './must-fix';
import type { Check, Finding, ReadinessFacts } from './readiness-facts';

/** What must be fixed and what is worth saying, each with the name of its check. */
export function readiness(facts: ReadinessFacts): {
  must: (Finding & { check: string })[];
  hints: (Finding & { check: string })[];
} {
  const found = (checks: readonly Check[]) =>
    checks.flatMap(({ name, find }) => find(facts).map((finding) => ({ ...finding, check: name })));
  return { must: found(MUST_FIX), hints: found(HINTS) };
}
