import { expect, test } from 'vitest';
import { HANDED_OVER_AGAIN, isRedelivery, type Came } from './redelivery';

const came = (part: Partial<Came> = {}): Came => ({ to: '72345', words: 'yes', at: 1000, id: null, by: 'a:1', ...part });

test.each<[string, Came | undefined, Came, boolean]>([
  ['nothing came before', undefined, came(), false],
  ['the same id', came({ id: 'i1' }), came({ id: 'i1', by: 'a:2' }), true],
  ['another id, also after a broken line', came({ id: 'i1' }), came({ id: 'i2', by: 'b:1' }), false],
  ['no id, after a broken line', came(), came({ by: 'b:1' }), true],
  ['no id, the same line at another place: a person wrote twice', came(), came({ by: 'a:2' }), false],
  ['no id, the same place of the same line', came(), came(), true],
  ['other words', came(), came({ words: 'no', by: 'b:1' }), false],
  ['to another sender', came(), came({ to: '72346', by: 'b:1' }), false],
  ['long after', came(), came({ by: 'b:1', at: 1001 + HANDED_OVER_AGAIN }), false],
  ['nothing known of where it came', came({ by: null }), came({ by: null }), false],
])('%s', (_what, latest, now, is) => expect(isRedelivery(latest, now)).toBe(is));
