import smpp from 'smpp';
import { readJournal } from '../src/carrier/journal';

/** What became of one number's text, as the message center tells it. */
interface TextSeen {
  words: string;
  parts: number;
  states: (string | undefined)[];
  submitted: number[];
  /** When it was at the phone, and when we had acknowledged its receipt. */
  final: (number | undefined)[];
  taken: (number | undefined)[];
}

export interface SeenFigures {
  /** Numbers that the message center took a part for, with what it knows of it. */
  texts: Map<string, TextSeen>;
  delivered: number;
  notDelivered: number;
  expired: number;
  parts: number;
  /** When the first part was accepted, ms, and seconds from there to the last at the phone and to the last receipt's acknowledgment. */
  delays: { at: number; least: number; most: number }[];
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
  const arrived = new Map<string, number>();
  const taken = new Map<string, number>();
  for (const line of lines) {
    if (line.what === 'final') {
      finals.set(line.id, line.state);
      if (!arrived.has(line.id)) arrived.set(line.id, Date.parse(line.at));
    }
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
      final: ids.map((id) => arrived.get(id)),
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
      const at = Math.min(...text.submitted);
      const until = (when: (number | undefined)[]) => (Math.max(...when.map((each) => each ?? NaN)) - at) / 1000;
      figures.delays.push({ at, least: until(text.final), most: until(text.taken) });
    } else if (text.states.some((state) => state === 'UNDELIV')) figures.notDelivered += 1;
    else if (text.states.some((state) => state === 'EXPIRED')) figures.expired += 1;
  }
  return figures;
}

/**
 * Between which delays the half of each minute's lies, and how many they are of: a third of them is nearer to the middle. We hear of it
 * after it was at the phone, and before the acknowledgment is with the message center: between the two lies our disk, and on a machine
 * that is busy with something else that is seconds.
 */
export function byMinute(delays: SeenFigures['delays']): { least: number; most: number; n: number }[] {
  const minutes = new Map<number, SeenFigures['delays']>();
  for (const each of delays) {
    const minute = Math.floor(each.at / 60_000);
    minutes.set(minute, [...(minutes.get(minute) ?? []), each]);
  }
  const at = (values: number[], part: number) => values.sort((a, b) => a - b)[Math.round((values.length - 1) * part)];
  return [...minutes.values()].map((each) => ({
    least: at(
      each.map(({ least }) => least),
      1 / 3,
    ),
    most: at(
      each.map(({ most }) => most),
      2 / 3,
    ),
    n: each.length,
  }));
}
