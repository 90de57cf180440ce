import { Dice } from '../src/core/line/simulator/dice';
import { readIncoming, type CarrierAlphabet } from '../src/core/text/incoming';
import { say, timed } from './figures';

const MANY = 1_000_000;
const CODINGS = [0, 1, 2, 3, 4, 5, 6, 7, 8, 0x10, 0x19, 0x85, 0xc8, 0xe8, 0xf0, 0xf4, 0xff];
const ALPHABETS: readonly CarrierAlphabet[] = ['gsm7', 'latin1', 'ascii'];

/** A million random strings of 0 to 254 octets as texts from phones, over every coding, with and without a header: read or kept, none lost. */
export async function octets(): Promise<void> {
  const dice = new Dice(72345);
  const buffer = new Uint8Array(254);
  let [read, kept, empty] = [0, 0, 0];
  const ms = await timed(() => {
    for (let i = 0; i < MANY; i += 1) {
      const length = dice.between(0, 254);
      for (let at = 0; at < length; at += 1) buffer[at] = dice.between(0, 255);
      const esm_class = i % 3 === 0 ? 0x40 : 0;
      const came = readIncoming(
        { esm_class, data_coding: CODINGS[i % CODINGS.length], short_message: buffer.subarray(0, length) },
        ALPHABETS[i % ALPHABETS.length],
      );
      if ('text' in came) read += 1;
      else kept += 1;
      if ('text' in came && came.text === '' && length > 0 && esm_class === 0) empty += 1;
    }
  });
  if (empty > 0) throw new Error(`${empty} texts with octets came out empty.`);
  say({
    name: `random octets: ${read} read, ${kept} kept as they came`,
    value: (MANY / ms) * 1000,
    unit: 'texts/s',
    against: 'nothing',
    ratio: 1,
    bar: '—',
  });
}
