import { writeFileSync } from 'node:fs';
import { parsePhoneNumberFromString } from 'libphonenumber-js/max';
import { split as splitSms } from 'split-sms';
import { compileText, type FieldType } from '../src/core/merge/compile';
import { readPhone } from '../src/core/phone/read';
import { rateOf } from '../src/core/plan/money/destinations';
import { measure } from '../src/core/text/measure';
import { figures, race, say, sink } from './figures';
import { line, queue } from './line';
import { dispatch } from './dispatch';
import { answers } from './answers';
import { door } from './door';
import { hostile } from './hostile';
import { files, imports, million, millionRows } from './people';
import { sheet } from './sheet';
import { standing } from './standing';
import { dueTimes } from './due-times';
import { calledOff, millionPlan, plans } from './plans';
import { outcomes, recipientsFile } from './outcomes';
import { octets } from './octets';
import { storm } from './storm';
import { liveReplies, screens } from './screens';
import { year } from './year';

/** npm run bench: each figure against a floor measured in the same run, alternately; the best of each side counts. */
const NAMES = ['Marisol', 'Henrik', 'Inès', 'Dao', 'Maximiliano', 'Léonie', 'Jo'];
const LANDINGS = ['North Landing', 'Mill Quay', 'Pine Point', 'Upper Saltmarsh Landing'];

async function texts(): Promise<void> {
  const rendered = Array.from(
    { length: 200_000 },
    (_, i) =>
      `${NAMES[i % 7]}: the 7:10 AM Heron from ${LANDINGS[i % 4]} is off Thu, Dec 3. Kittiwake leaves 7:40 AM, same dock. Ottermere Ferry. STOP to opt out`,
  );
  // sums in a variable of their own: one that is shared is read and written each time, and costs both sides more than half of their time
  const floor = () => {
    let sum = 0;
    for (const text of rendered) for (let i = 0; i < text.length; i += 1) sum += text.charCodeAt(i);
    sink.value += sum;
  };
  const [ours, bare] = await race(
    7,
    () => {
      let sum = 0;
      for (const text of rendered) sum += measure(text).parts;
      sink.value += sum;
    },
    floor,
  );
  say({
    name: 'measure alphabet and parts',
    value: (rendered.length / ours) * 1000,
    unit: 'texts/s',
    against: 'bare loop',
    ratio: bare / ours,
    bar: '0.75',
  });
  const few = rendered.slice(0, 10_000);
  const [mine, theirs] = await race(
    5,
    () => {
      let sum = 0;
      for (const text of few) sum += measure(text).parts;
      sink.value += sum;
    },
    () => {
      let sum = 0;
      for (const text of few) sum += splitSms(text).parts.length;
      sink.value += sum;
    },
  );
  say({
    name: 'measure parts against split-sms',
    value: (few.length / mine) * 1000,
    unit: 'texts/s',
    against: 'split-sms',
    ratio: theirs / mine,
    bar: '10',
  });
  const compiled = compileText(
    '{given_name or "neighbor"}: the 7:10 AM Heron from {home_landing} is off Thu, Dec 3. Kittiwake leaves 7:40 AM, same dock. Ottermere Ferry. STOP to opt out',
    new Map<string, FieldType>([
      ['given_name', 'text'],
      ['home_landing', 'text'],
    ]),
  );
  const rates = [
    { prefix: '+1', price_micro: 7500 },
    { prefix: '+44', price_micro: 31_000 },
  ];
  const rate = rateOf(rates);
  const [all, loop] = await race(
    7,
    () => {
      let sum = 0;
      for (let i = 0; i < 200_000; i += 1) {
        const { text } = compiled.render((name) => (name === 'given_name' ? NAMES[i % 7] : LANDINGS[i % 4]), 'en');
        sum += measure(text).parts * rates[rate('+12075550142')].price_micro;
      }
      sink.value += sum;
    },
    floor,
  );
  say({
    name: 'render, measure and price a recipient',
    value: (200_000 / all) * 1000,
    unit: 'texts/s',
    against: 'bare loop',
    ratio: loop / all,
    bar: '0.5',
  });
}

async function numbers(): Promise<void> {
  const mixed = Array.from({ length: 200_000 }, (_, i) => {
    const d = String(2_072_000_000 + ((i * 7919) % 7_000_000));
    return [
      `(${d.slice(0, 3)}) ${d.slice(3, 6)}-${d.slice(6)}`,
      `+1 ${d.slice(0, 3)} ${d.slice(3, 6)} ${d.slice(6)}`,
      d,
      `1${d}`,
      `${d.slice(0, 3)}.${d.slice(3, 6)}.${d.slice(6)}`,
      `00${`1${d}`}`,
      `+44 20 7946 ${String(i % 1000).padStart(4, '0')}`,
    ][i % 100 < 96 ? i % 5 : 5 + (i % 2)];
  });
  for (const text of mixed.slice(0, 5000)) {
    const ours = readPhone(text, { country: 'US' });
    const theirs = parsePhoneNumberFromString(text.replace(/^00/, '+'), { defaultCountry: 'US', extract: false });
    if ((ours.ok ? ours.number : undefined) !== (theirs?.isValid() ? theirs.number : undefined))
      throw new Error(`${text}: the fast road and the library differ`);
  }
  const [ours, theirs] = await race(
    3,
    () => {
      for (const text of mixed) sink.value += readPhone(text, { country: 'US' }).ok ? 1 : 0;
    },
    () => {
      for (const text of mixed) {
        const read = parsePhoneNumberFromString(text.replace(/^00/, '+'), { defaultCountry: 'US', extract: false });
        sink.value += read?.isValid() && read.getType() ? 1 : 0;
      }
    },
  );
  say({
    name: 'read phone numbers (200,000 mixed)',
    value: (mixed.length / ours) * 1000,
    unit: 'numbers/s',
    against: 'libphonenumber',
    ratio: theirs / ours,
    bar: '5',
  });
}

// `-- line` runs one of them alone
const only = process.argv.slice(2).find((word) => !word.startsWith('--') && !word.endsWith('.json'));
for (const [name, run] of Object.entries({
  texts,
  numbers,
  files,
  imports,
  line,
  dispatch,
  queue,
  plans,
  sheet,
  dueTimes,
  calledOff,
  million,
  millionPlan,
  millionRows,
  hostile,
  door,
  outcomes,
  standing,
  storm,
  answers,
  octets,
  recipientsFile,
  screens,
  liveReplies,
}))
  if (only === undefined || only === name) await run();
// half an hour: only when it is asked for
if (only === 'year') await year();
const memory = process.memoryUsage().rss / 1e6;
process.stdout.write(`\nmemory at the end ${memory.toFixed(0)} MB (${sink.value % 2})\n`);
const json = process.argv.indexOf('--json');
if (json > 0) writeFileSync(process.argv[json + 1], JSON.stringify(figures, null, 2));
process.exit(0);
