/** What a validator of JSON Schema says that is wrong: Ajv's and typebox's errors have this in common. */
export interface SchemaError {
  keyword: string;
  params: unknown;
}

/** What is wrong with a value, in a sentence, by the keyword of JSON Schema (2020-12, Validation) that it breaks. */
export function notFitting(error: SchemaError, value: unknown): string {
  const params = error.params as { limit?: number; format?: string; type?: string };
  if (value === '' || value === undefined || value === null) return 'Fill this in.';
  switch (error.keyword) {
    case 'minLength':
      return `At least ${countOf(params.limit, 'character')}.`;
    case 'maxLength':
      return `At most ${countOf(params.limit, 'character')}.`;
    case 'minItems':
      return `At least ${countOf(params.limit, 'entry', 'entries')}.`;
    case 'maxItems':
      return `At most ${countOf(params.limit, 'entry', 'entries')}.`;
    case 'minimum':
      return `At least ${params.limit?.toLocaleString('en-US')}.`;
    case 'maximum':
      return `At most ${params.limit?.toLocaleString('en-US')}.`;
    case 'type':
      return ['integer', 'number'].includes(String(params.type)) ? 'That is not a number.' : 'That cannot be read.';
    case 'format':
      return params.format === 'email' ? 'That is not an e-mail address.' : 'That cannot be read.';
    default:
      return 'That cannot be read as what it is to be.';
  }
}

const countOf = (n = 0, one: string, many = `${one}s`) => `${n.toLocaleString('en-US')} ${n === 1 ? one : many}`;

/**
 * A place in what was sent, as one would say it: of `/draft/when/times/1` the second of “times”. The whole path is for programs and
 * stands beside the sentence.
 *
 * @param path a JSON Pointer (RFC 6901)
 */
export function placeInWords(path: string): string {
  const keys = path.split('/').slice(1);
  const last = keys.findLastIndex((key) => !/^\d+$/.test(key));
  if (last < 0) return keys.length > 0 ? `number ${Number(keys[0]) + 1}` : '';
  const named = `“${keys[last].replaceAll('_', ' ')}”`;
  return last + 1 < keys.length ? `${named}, number ${Number(keys[last + 1]) + 1}` : named;
}
