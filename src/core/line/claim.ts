import { gate, type GateFacts } from '../gate/gate';
import type { Hours } from '../gate/hours';
import { freeAfter, nextFree, partsFree } from './sender-rate';

/** A leased text as it stands in the tables at the moment of the claim. */
export interface ClaimText {
  id: number;
  sender: number;
  /** The moment from which it may go, ms. */
  due: number;
  /** Its parts that have not gone: all of them, or those that are tried again. */
  todo: readonly number[];
  facts: GateFacts;
}

export interface Claimed<T extends ClaimText> {
  /** To be handed over, and until when it may be delivered. */
  go: { text: T; until: number }[];
  /** Not at this hour. */
  later: { text: T; at: number }[];
  /** Its run is paused. */
  hold: T[];
  never: { text: T; reason: string }[];
  /** May go, but not now: no room or no rate. */
  kept: T[];
  /** Sender → when its line is free, for the senders that something went from. */
  freeAt: Map<number, number>;
  /** Sender → when to ask again, for those out of rate. */
  askAgain: Map<number, number>;
}

/**
 * What may be handed over now, of texts in the order of going: asks the gate for each, then takes as many as the window has
 * room for and the senders' rates allow. Decides inside the transaction that writes the intent, on what that reads.
 *
 * @param room parts that may be handed over; 0 only sorts out who may not go
 * @param lines sender → its rate (parts a second) and when its line is free
 */
export function decideClaim<T extends ClaimText>(asked: {
  now: number;
  texts: readonly T[];
  room: number;
  lines: ReadonlyMap<number, { rate: number; freeAt: number }>;
  book: Hours;
  ask?: typeof gate;
}): Claimed<T> {
  const { now, lines, book, ask = gate } = asked;
  const claimed: Claimed<T> = {
    go: [],
    later: [],
    hold: [],
    never: [],
    kept: [],
    freeAt: new Map(),
    askAgain: new Map(),
  };
  let { room } = asked;
  for (const text of asked.texts) {
    // what is not due yet is asked for its own moment, and only let go of
    const answer = ask(text.facts, Math.max(now, text.due), book);
    if (answer.kind === 'never') claimed.never.push({ text, reason: answer.reason });
    else if (answer.kind === 'hold') claimed.hold.push(text);
    else if (answer.kind === 'later') claimed.later.push({ text, at: answer.at });
    else if (text.due > now) claimed.kept.push(text);
    else {
      const parts = text.todo.length;
      const line = lines.get(text.sender);
      const freeAt = claimed.freeAt.get(text.sender) ?? line?.freeAt ?? 0;
      const rate = line?.rate ?? 1;
      if (parts > room) {
        claimed.kept.push(text);
        room = 0; // what comes after must not overtake it
      } else if (partsFree(freeAt, rate, now) < 1) {
        claimed.kept.push(text);
        claimed.askAgain.set(text.sender, nextFree(freeAt, rate, now));
      } else {
        room -= parts;
        claimed.freeAt.set(text.sender, freeAfter(freeAt, rate, now, parts));
        claimed.go.push({ text, until: answer.until });
      }
    }
  }
  return claimed;
}

/**
 * user_message_reference of a text's parts: from its id, so that two texts to a number differ unless thousands lie between
 * them; `taken` says that a part to that number is open with one of these, and the next block is used.
 */
export function referencesOf(id: number, parts: readonly number[], taken: boolean): number[] {
  const block = (id + (taken ? 2048 : 0)) % 4095;
  return parts.map((no) => block * 16 + no);
}
