import { readPart } from '../core/text/air';
import { isAtOnce } from '../core/text/at-once';
import type { ShortMessageFields } from '../smpp/pdu';

/** One text on a handset's screen: received, or sent by whoever holds it. */
export interface ScreenText {
  direction: 'in' | 'out';
  /** The other end's address. */
  address: string;
  text: string;
  at: string;
  /** Parts arrived of parts expected. */
  arrived: number;
  total: number;
  /** Shown over whatever is on the screen, and not kept (class 0). */
  at_once?: boolean;
}

export interface Phone {
  number: string;
  texts: ScreenText[];
  lastAt: string;
}

const KEPT_TEXTS = 40;

/** The simulated handsets: joins parts as a phone does, and remembers what is on each screen. */
export class Phones {
  private readonly phones = new Map<string, Phone>();
  /** It has been told what stood on the screens before it began. */
  private told = false;
  private readonly joining = new Map<string, { texts: string[]; screen: ScreenText }>();

  /** A text part reaches the phone. */
  arrive(fields: ShortMessageFields, at: string): void {
    const phone = this.phone(fields.destination_addr);
    const part = readPart(fields);
    phone.lastAt = at;
    const came = {
      direction: 'in',
      address: fields.source_addr,
      at,
      ...(isAtOnce(fields.data_coding) ? { at_once: true } : {}),
    } as const;
    if (!part.join) {
      this.show(phone, { ...came, text: part.text, arrived: 1, total: 1 });
      return;
    }
    const { reference, total, index } = part.join;
    const key = `${fields.destination_addr}|${fields.source_addr}|${reference}|${total}`;
    let joined = this.joining.get(key);
    if (!joined || joined.texts[index - 1] !== undefined) {
      joined = { texts: [], screen: { ...came, text: '', arrived: 0, total } };
      this.joining.set(key, joined);
      this.show(phone, joined.screen);
    }
    joined.texts[index - 1] = part.text;
    joined.screen.arrived += 1;
    joined.screen.text = Array.from({ length: total }, (_, i) => joined.texts[i] ?? '…').join('');
    if (joined.screen.arrived === total) this.joining.delete(key);
  }

  /** Whoever holds the phone sends a text. */
  send(number: string, to: string, text: string, at: string): void {
    const phone = this.phone(number);
    phone.lastAt = at;
    this.show(phone, { direction: 'out', address: to, text, at, arrived: 1, total: 1 });
  }

  /** What stood on the screens before this carrier began, from whoever knows it; once. What has come since stays beneath it. */
  tell(known: readonly { number: string; texts: readonly Pick<ScreenText, 'direction' | 'address' | 'text' | 'at'>[] }[]): void {
    if (this.told) return;
    this.told = true;
    for (const { number, texts } of known) {
      const phone = this.phone(number);
      const [first] = phone.texts;
      const before = texts.filter((each) => phone.texts.length === 0 || each.at < first.at);
      phone.texts.unshift(...before.map((each) => ({ ...each, arrived: 1, total: 1 })));
      if (phone.lastAt === '') phone.lastAt = texts.at(-1)?.at ?? '';
    }
  }

  /** Handsets with anything on their screen, latest first; and whether it knows what was before it. */
  list(search: string, limit: number): { phones: Phone[]; total: number; told: boolean } {
    const digits = search.replace(/\D/g, '');
    const words = search.trim().toLowerCase();
    const found = [...this.phones.values()].filter(
      (phone) =>
        words === '' ||
        (digits.length >= 3 && phone.number.includes(digits)) ||
        phone.texts.some((each) => each.text.toLowerCase().includes(words)),
    );
    found.sort((a, b) => (a.lastAt < b.lastAt ? 1 : a.lastAt > b.lastAt ? -1 : a.number < b.number ? -1 : 1));
    return { phones: found.slice(0, limit), total: found.length, told: this.told };
  }

  get(number: string): Phone | undefined {
    return this.phones.get(number);
  }

  private phone(number: string): Phone {
    let phone = this.phones.get(number);
    if (!phone) {
      phone = { number, texts: [], lastAt: '' };
      this.phones.set(number, phone);
    }
    return phone;
  }

  private show(phone: Phone, text: ScreenText): void {
    phone.texts.push(text);
    if (phone.texts.length > KEPT_TEXTS) phone.texts.shift();
  }
}
