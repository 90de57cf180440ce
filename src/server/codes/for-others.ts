/** What other areas may use of this one; the rest of it is its own (lint). */
export {
  type TakenCode,
  broadcastOf,
  codesFor,
  holdCodes,
  holderOf,
  reserveCodes,
  returnSpareCodes,
  takeCodes,
} from './code-store';
