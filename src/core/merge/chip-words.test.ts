import { describe, expect, test } from 'vitest';
import { chipWords, onOneLine } from './chip-words';
import { parseText } from './syntax';

const KNOWN = new Map([
  ['given_name', 'given name'],
  ['send_date', 'date it is sent'],
  ['link timetable', 'link timetable'],
]);
const said = (source: string, day?: { today: string; language: string }) =>
  onOneLine(parseText(source).nodes)
    .map((node) => {
      if (node.kind === 'words') return node.text;
      const { name, extra } = chipWords(node, KNOWN, day);
      return `[${name}${extra}]`;
    })
    .join('');

describe('a placeholder as everybody reads it', () => {
  test('by its label, with what stands in for it', () =>
    expect(said('{given_name or "neighbor"}:\nboats  {link timetable}')).toBe(
      '[given name or neighbor]: boats [link timetable]',
    ));
  test('a date is read where the day is known, and only named where it is not', () => {
    const words = 'on {send_date + 1 day as "EEE, MMM d"}';
    expect(said(words, { today: '2026-12-02', language: 'en' })).toBe('on [date it is sent + 1 day: Thu, Dec 3]');
    expect(said(words)).toBe('on [date it is sent + 1 day]');
    expect(said('{send_date next friday}')).toBe('[date it is sent, the next Friday]');
  });
  test('no braces and no underscores, also of a field that is gone', () => {
    expect(said('{old_field or "x"} {{ok')).toBe('[old field or x] {ok');
    const [node] = parseText('{old_field}').nodes;
    expect(node.kind === 'field' && chipWords(node, KNOWN).known).toBe(false);
  });
});
