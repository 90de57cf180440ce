/** What other areas may use of this one; the rest of it is its own (lint). */
export { countFigures } from './run-figures';
export { outcomeSql } from './run-outcome-sql';
export { COMES_TO_MICRO, COMES_TO_PARTS, SPENT_MICRO, SPENT_PARTS } from './spent-sql';
export { numbersThatChose } from './tally';
