/** What other areas may use of this one; the rest of it is its own (lint). */
export { type Asker, countWaiting, waitingConversations } from './conversation-queries';
