import smpp from 'smpp';
import { readJournal } from '../../src/carrier/journal';

/** What became of one number's text, as the message center tells it. */
interface TextSeen {
  words: string;
  parts: number;
  states: (string | undefined)[];
  submitted: number[];
  taken: (number | undefined)[];
}

export interface SeenFigures {
  /** Numbers that the message center took a part for, with what it knows of it. */
  texts: Map<string, TextSeen>;
  delivered: number;
  notDelivered: number;
  expired: number;
  parts: number;
  /** When the first part was accepted, ms, and seconds from there to the last receipt; of what was delivered. */
  delays: { at: number; seconds: number }[];
}

/**
 * A run's figures a second time, from nothing but the message center's journal: its PDUs decoded by the smpp package, parts joined by
 * hand from the octets of their header, what became of a text from what became of its parts. It shares no code with the product.
 *
 * @param belongs whether a text's words are of the run
 */
export function secondFigures(journal: string, belongs: (words: string) => boolean): SeenFigures {
  const lines = readJournal(journal);
  const finals = new Map<string, string>();
  const taken = new Map<string, number>();
  for (const line of lines) {
    if (line.what === 'final') finals.set(line.id, line.state);
    if (line.what === 'receipt' && line.at !== undefined) taken.set(line.id, Date.parse(line.at));
  }
  const joining = new Map<string, { pieces: string[]; ids: string[]; at: number[]; total: number }>();
  const texts = new Map<string, TextSeen>();
  const whole = (number: string, words: string, ids: string[], at: number[]) => {
    if (!belongs(words)) return;
    if (texts.has(number)) throw new Error(`${number} got the same text twice.`);
    texts.set(number, {
      words,
      parts: ids.length,
      states: ids.map((id) => finals.get(id)),
      submitted: at,
      taken: ids.map((id) => taken.get(id)),
    });
  };
  for (const line of lines) {
    if (line.what !== 'submit') continue;
    const pdu = new smpp.PDU(Buffer.from(line.pdu, 'hex'));
    const number = `+${String(pdu.destination_addr)}`;
    const message = pdu.short_message as { udh?: Buffer[]; message: string };
    const header = message.udh?.[0];
    if (!header) {
      whole(number, message.message, [line.id], [Date.parse(line.at)]);
      continue;
    }
    const [reference, total, index] = [header[2], header[3], header[4]];
    const key = `${number}|${reference}|${total}`;
    const joined = joining.get(key) ?? { pieces: [], ids: [], at: [], total };
    joined.pieces[index - 1] = message.message;
    joined.ids[index - 1] = line.id;
    joined.at[index - 1] = Date.parse(line.at);
    joining.set(key, joined);
    if (joined.pieces.filter((piece) => piece !== undefined).length === total) {
      whole(number, joined.pieces.join(''), joined.ids, joined.at);
      joining.delete(key);
    }
  }
  const figures: SeenFigures = { texts, delivered: 0, notDelivered: 0, expired: 0, parts: 0, delays: [] };
  for (const text of texts.values()) {
    figures.parts += text.parts;
    if (text.states.every((state) => state === 'DELIVRD')) {
      figures.delivered += 1;
      const last = Math.max(...text.taken.map((at) => at ?? NaN));
      const at = Math.min(...text.submitted);
      figures.delays.push({ at, seconds: (last - at) / 1000 });
    } else if (text.states.some((state) => state === 'UNDELIV')) figures.notDelivered += 1;
    else if (text.states.some((state) => state === 'EXPIRED')) figures.expired += 1;
  }
  return figures;
}

/** Between which delays the half of each minute's lies, and how many they are of: a third of them is nearer to the middle. */
export function byMinute(delays: SeenFigures['delays']): { least: number; most: number; n: number }[] {
  const minutes = new Map<number, number[]>();
  for (const { at, seconds } of delays) {
    const minute = Math.floor(at / 60_000);
    minutes.set(minute, [...(minutes.get(minute) ?? []), seconds]);
  }
  return [...minutes.values()].map((each) => {
    const sorted = each.sort((a, b) => a - b);
    return {
      least: sorted[Math.floor((sorted.length - 1) / 3)],
      most: sorted[Math.ceil(((sorted.length - 1) * 2) / 3)],
      n: each.length,
    };
  });
}
