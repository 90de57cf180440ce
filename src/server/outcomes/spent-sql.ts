/**
 * What has been taken of a run so far, as SQL over `run`: radio messages, and money in millionths. The one source of both, wherever they
 * stand; what was shown before it went (`run.parts`, `run.cost_micro`) stands only where that is said.
 */
export const SPENT_PARTS = `(SELECT coalesce(sum(t.billed_parts), 0)::bigint FROM run_tally t WHERE t.run_id = run.id)`;
export const SPENT_MICRO = `(SELECT coalesce(sum(t.billed_micro), 0)::bigint FROM run_tally t WHERE t.run_id = run.id)`;

const COMES = `run.started_at IS NULL AND run.ended_at IS NULL`;
/** What a run comes to: what it will take until it has begun, and what it has taken from then on. */
export const COMES_TO_PARTS = `CASE WHEN ${COMES} THEN run.parts ELSE ${SPENT_PARTS} END`;
export const COMES_TO_MICRO = `CASE WHEN ${COMES} THEN run.cost_micro ELSE ${SPENT_MICRO} END`;
