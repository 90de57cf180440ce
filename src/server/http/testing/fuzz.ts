import type { TSchema } from 'typebox';
import type { Dice } from '../../../core/line/simulator/dice';

/** What a request holds that nobody who means well sends. */
const WEIRD: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  0.1,
  -0,
  1e21,
  9_007_199_254_740_993,
  1.7e308,
  '',
  ' ',
  '0x1',
  'Infinity',
  'NaN',
  '1e400',
  '9999-99-99',
  '0000-00-00',
  '2026-02-30',
  '25:61',
  '\u0000',
  '\ud800',
  '\u202eSTOP',
  '\ufeff',
  '👨‍👩‍👧‍👦'.repeat(50),
  'x'.repeat(5000),
  "'; DROP TABLE account; --",
  '$1',
  '%s%n',
  '{{given_name}}',
  '{given_name or {given_name}}',
  '../../etc/passwd',
  '__proto__',
  'constructor',
  [],
  {},
  [[]],
];
/** Strings of the shapes that schemas ask for; of a pattern, the first that fits is taken. */
const STRINGS = [
  'en',
  'US',
  'USD',
  'home_landing',
  '2026-12-02',
  '12:30',
  '08:00-21:00',
  '+12075550142',
  'America/New_York',
  'person',
  '1',
  '#204a6b',
  'ana@ottermere.example',
  '2026-12-02T20:50:00.000Z',
  'https://example.org/a',
  'Heron',
];
const FORMATS: Record<string, string> = {
  date: '2026-12-02',
  'date-time': '2026-12-02T20:50:00.000Z',
  email: 'ana@ottermere.example',
  uri: 'https://example.org/a',
};

interface Json {
  type?: string;
  const?: unknown;
  enum?: unknown[];
  anyOf?: Json[];
  properties?: Record<string, Json>;
  required?: string[];
  patternProperties?: Record<string, Json>;
  items?: Json;
  minItems?: number;
  minimum?: number;
  maximum?: number;
  pattern?: string;
  format?: string;
  minLength?: number;
}

const pick = <T>(dice: Dice, all: readonly T[]): T => all[dice.between(0, all.length - 1)];
const textOf = (pattern: string) => STRINGS.find((each) => new RegExp(pattern, 'u').test(each)) ?? 'x';

/** A value that a schema allows. */
export function sampleOf(schema: TSchema | undefined, dice: Dice): unknown {
  return schema === undefined ? {} : sample(schema as Json, dice);
}

function sample(schema: Json, dice: Dice): unknown {
  if ('const' in schema) return schema.const;
  if (schema.enum) return pick(dice, schema.enum);
  if (schema.anyOf) return sample(pick(dice, schema.anyOf), dice);
  switch (schema.type) {
    case 'object': {
      const of: Record<string, unknown> = {};
      for (const [key, each] of Object.entries(schema.properties ?? {}))
        if (schema.required?.includes(key) || dice.chance(0.5)) of[key] = sample(each, dice);
      for (const [pattern, each] of Object.entries(schema.patternProperties ?? {}))
        if (dice.chance(0.5)) of[textOf(pattern)] = sample(each, dice);
      return of;
    }
    case 'array':
      return Array.from({ length: Math.max(schema.minItems ?? 0, dice.between(0, 3)) }, () => sample(schema.items ?? {}, dice));
    case 'integer':
    case 'number':
      return dice.between(Math.max(schema.minimum ?? 0, -5), Math.min(schema.maximum ?? 9, 9));
    case 'boolean':
      return dice.chance(0.5);
    case 'null':
      return null;
    case 'string':
      return schema.format ? (FORMATS[schema.format] ?? 'x') : schema.pattern ? textOf(schema.pattern) : pick(dice, STRINGS);
    default:
      return pick(dice, WEIRD);
  }
}

/** A JSON text beside one that is allowed: another type, a key that nobody named, deeper, longer, or with what every object has of itself. */
export function neighborOf(value: unknown, dice: Dice): string {
  const places: { of: Record<string, unknown>; key: string }[] = [];
  const whole = { value: structuredClone(value) };
  const walk = (of: Record<string, unknown>) => {
    for (const key of Object.keys(of)) {
      places.push({ of, key });
      const each = of[key];
      if (each !== null && typeof each === 'object') walk(each as Record<string, unknown>);
    }
  };
  walk(whole);
  const { of, key } = pick(dice, places);
  const deep = (n: number) => `${'{"a":'.repeat(n)}1${'}'.repeat(n)}`;
  const MARK = 'put here';
  switch (dice.between(0, 6)) {
    case 0:
    case 1:
      of[key] = pick(dice, WEIRD);
      break;
    case 2: {
      const inside = of[key];
      if (inside !== null && typeof inside === 'object') (inside as Record<string, unknown>).unnamed = pick(dice, WEIRD);
      else of[key] = { unnamed: inside };
      break;
    }
    case 3:
      of[key] = MARK;
      return JSON.stringify(whole.value).replace(`"${MARK}"`, () => deep(pick(dice, [3, 40, 5000])));
    case 4:
      of[key] = MARK;
      return JSON.stringify(whole.value).replace(`"${MARK}"`, () =>
        pick(dice, ['1e400', '{"__proto__":{"role":"manage"}}', '-', '[1,', '"\\ud800"']),
      );
    case 5:
      of[key] = Array.from({ length: pick(dice, [50, 3000]) }, () => of[key]);
      break;
    default:
      if (!Array.isArray(of)) delete of[key];
  }
  return JSON.stringify(whole.value) ?? 'null';
}

/** Bytes near to a text: some put in, taken out, doubled or turned, as no schema would make them. */
export function bytesNear(text: string, dice: Dice): Buffer {
  let bytes = Buffer.from(text);
  for (let i = dice.between(1, 4); i > 0; i -= 1) {
    const at = dice.between(0, Math.max(0, bytes.length - 1));
    const until = Math.min(bytes.length, at + dice.between(1, 12));
    const part = bytes.subarray(at, until);
    const [before, after] = [bytes.subarray(0, at), bytes.subarray(until)];
    switch (dice.between(0, 4)) {
      case 0:
        bytes = Buffer.concat([before, after]);
        break;
      case 1:
        bytes = Buffer.concat([before, ...Array.from({ length: dice.between(2, 40) }, () => part), after]);
        break;
      case 2:
        bytes = Buffer.concat([before, Buffer.from(part.map((byte) => byte ^ (1 << dice.between(0, 7)))), after]);
        break;
      case 3:
        bytes = Buffer.concat([
          before,
          Buffer.from(pick(dice, ['"', '\\', '{', ']', ',', '0', '\u0000', 'null', '-', '1e9', 'é'])),
          bytes.subarray(at),
        ]);
        break;
      default:
        bytes = Buffer.concat([before, Buffer.from(JSON.stringify(pick(dice, WEIRD))), after]);
    }
  }
  return bytes;
}

/** A part of an address: of something that may be there, or of what nobody means. */
export function partOfAddress(dice: Dice): string {
  return encodeURIComponent(
    pick(dice, [
      '1',
      '1',
      '1',
      '2',
      '3',
      '4',
      '5',
      '0x1',
      '1e3',
      '-1',
      '0',
      '9007199254740993',
      'person',
      'marketing',
      '__proto__',
      "a'b",
      '👍',
      '\u0000',
      'x'.repeat(300),
    ]),
  );
}
export { pick, WEIRD };
