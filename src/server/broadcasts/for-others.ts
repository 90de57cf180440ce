/** What other areas may use of this one; the rest of it is its own (lint). */
export { surroundings } from './planning/plan-surroundings';
export { dependantsOf, peopleWithConsent } from './sources/load-people';
