import { simpleParser } from 'mailparser';
import { expect, test } from 'vitest';
import { endOfHead, readHead } from './mail-head';

const HEAD = [
  'From: Pier office <pier@ottermere.example>',
  'Subject: =?utf-8?Q?R=C3=A9ponse?=',
  'References: <passed.aaaaaaaaaaaa@bell.example>',
  '\t<passed.bbbbbbbbbbbb@bell.example>',
  'In-Reply-To: <passed.cccccccccccc@bell.example>',
  'Auto-Submitted: auto-replied',
  'List-Id:',
  ' <crew.ottermere.example>',
];

test.each(['\r\n', '\n'])(
  'the headers end with the first empty line, and are read as the mail package reads them',
  async (end) => {
    const text = `${HEAD.join(end)}${end}${end}Body: no header${end}${end}more`;
    expect(endOfHead(text.slice(0, 100))).toBeUndefined();
    const { headers, references } = readHead(text.slice(0, endOfHead(text)));
    const mail = await simpleParser(text);
    expect(references).toEqual([mail.references, mail.inReplyTo].flat());
    expect(headers.get('auto-submitted')).toBe(mail.headers.get('auto-submitted'));
    expect(headers.get('list-id')).toBe('<crew.ottermere.example>');
    expect(headers.has('body')).toBe(false);
    expect([...headers.keys()]).toEqual(mail.headerLines.map(({ key }) => key));
  },
);

test('a mail without any, and one that never ends them', () => {
  expect(endOfHead('\r\nwords')).toBe(0);
  expect(endOfHead('x: y\r\n'.repeat(1000))).toBeUndefined();
  expect(readHead('')).toEqual({ headers: new Map(), references: [] });
});

test('of ten thousand references the last are looked at', () => {
  const all = Array.from({ length: 10_000 }, (_, i) => `<a${i}@b>`);
  expect(readHead(`References: ${all.join(' ')}\r\nIn-Reply-To: <c@d>`).references).toEqual([...all.slice(-50), '<c@d>']);
});
