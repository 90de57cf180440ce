/** What other areas may use of this one; the rest of it is its own (lint). */
export { countFigures } from './run-figures';
export { outcomeSql } from './run-outcome-sql';
export { numbersThatChose } from './tally';
