/** What other areas may use of this one; the rest of it is its own (lint). */
export { type HandedIn, OverBudget } from './handed-in';
export { type ReadMail } from './tasks';
