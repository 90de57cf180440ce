/** What other areas may use of this one; the rest of it is its own (lint). */
export { A_DOZEN } from './a-dozen';
export { ChangesOfMany } from './ChangesOfMany';
export { type Sources, heading, nameOf } from './sources';
