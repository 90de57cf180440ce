/** What other areas may use of this one; the rest of it is its own (lint). */
export { BALANCE_LOCK, balanceMicro, priceOf } from './money';
export { giveConversation } from './passing/give';
export { GIVEN_FOR } from './passing/note';
export { mailServer, sendMail } from './passing/mail-out';
export { ANSWER_USEFUL } from './passing/pass-back';
export { queueText } from './queue-text';
export { optIn, optOut } from './register';
export { senderAnswering } from './replies/answering-sender';
export {
  ANSWERED,
  accountsOfDesk,
  bringBack,
  claim,
  closeAll,
  closeUpTo,
  lockConversation,
  notAStop,
  refuseOvertaken,
} from './replies/conversation-acts';
export { questionOfRun } from './replies/run-question';
export { whoHas } from './replies/who-has';
export { dropChangedMeanwhile } from './runs/changed-meanwhile';
export { notSent } from './runs/not-sent';
export { keptForAWhile } from './trim';
export { goOnOtherDay, otherDayOf } from './runs/other-day';
export { callOff, endWithoutNext, moveRun } from './runs/run-life';
