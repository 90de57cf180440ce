import { expect, test } from 'vitest';
import { nameFrom } from './name-from';

test.each([
  ['{given_name or "neighbor"}: the 7:10 AM Heron is off tomorrow.', 'the 7:10 AM Heron is off'],
  ['Pool closed today. Otters stay home.', 'Pool closed today'],
  ['Members’ evening, doors at eight — bring a chair', 'Members’ evening, doors at eight'],
  ['https://example.org/x', ''],
  ['{given_name}', ''],
  ['', ''],
  ['Hello {nick', 'Hello'],
  ['Hello {given_name}, your pass runs out', 'Hello, your pass runs out'],
  ['Dear {given name}. Doors at eight', 'Dear'],
  ['!!! ?', ''],
  ['at{{all the quay is shut', 'at{all the quay is shut'],
])('%s', (words, name) => expect(nameFrom(words)).toBe(name));
