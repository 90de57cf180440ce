/** What other areas may use of this one; the rest of it is its own (lint). */
export { Failing } from './Failing';
export { OwnNumber } from './OwnNumber';
export { PARTS, wayTo } from './parts';
