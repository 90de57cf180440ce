import { Dice } from '../src/core/line/simulator/dice';
import { spreadsheet, workbook, zipOf } from '../src/server/files/testing';

/** What a stranger or a colleague might hand in to stop the others: generated, so that no two are the same, and repeatable by its seed. */
export type Kind = 'mail' | 'xliff' | 'codes' | 'card' | 'workbook';
export const KINDS: readonly Kind[] = ['mail', 'xliff', 'codes', 'card', 'workbook'];

/** How often a piece of `size` characters fits into what a kind may hold, now and then all of it. */
const times = (dice: Dice, most: number, size: number) =>
  Math.max(1, Math.floor((dice.chance(0.2) ? most : dice.between(1, most >> 3)) / size));
const oneOf = <T>(dice: Dice, all: readonly T[]): T => all[dice.between(0, all.length - 1)];

const MAIL = 4_900_000;
/** The parts of a mail after its first headers. */
export function hostileMail(dice: Dice): string {
  const many = (piece: string) => piece.repeat(times(dice, MAIL, piece.length));
  const html = (body: string) => `Content-Type: text/html; charset=utf-8\r\n\r\n${body}`;
  return oneOf<() => string>(dice, [
    () => html(`<html><body>${many('<div><table><tr><td>')}Yes`),
    () => html(many('<p>Yes <b>and <i>more</p>')),
    () => html(many('<a href="https://ottermere.example/x">&nbsp;&amp;&#x27;</a>')),
    () => html(many('<')),
    () => html(`<style>${many('a{b:c}')}`),
    () => html(many('<!-- ')),
    () => `Content-Type: text/plain\r\n\r\n${many('> > > quoted\r\n')}`,
    () => `Content-Type: text/plain\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\n${many('=C3=A9=\r\n')}`,
    () => `Content-Type: text/plain\r\nContent-Transfer-Encoding: base64\r\n\r\n${many('WWVzCg==\r\n')}`,
    () =>
      `Content-Type: text/plain; charset=${oneOf(dice, ['utf-7', 'x-none', 'gb18030', 'utf-16'])}\r\n\r\n${many('Ye\u00e9s ')}`,
    () => `${many('X-Header: a\r\n')}\r\nYes`,
    () => `Subject: ${many('=?utf-8?Q?=C3=A9?=\r\n ')}\r\n\r\nYes`,
    () => `References: ${many('<a@b>\r\n ')}\r\n\r\nYes`,
    () =>
      `Content-Type: multipart/mixed; boundary=b0\r\n\r\n${Array.from({ length: dice.between(10, 3000) }, (_, i) => `--b${i}\r\nContent-Type: multipart/mixed; boundary=b${i + 1}\r\n\r\n`).join('')}Yes`,
    () => `Content-Type: multipart/mixed; boundary=b\r\n\r\n${many('--b\r\nContent-Type: text/html\r\n\r\n<p>Yes\r\n')}`,
    () =>
      `Content-Type: multipart/alternative; boundary=b\r\n\r\n${many('--b\r\nContent-Type: image/png; name="a"\r\n\r\nx\r\n')}`,
  ])();
}

const XLIFF = 1_000_000;
const doc = (body: string) =>
  `<?xml version="1.0"?><xliff xmlns="urn:oasis:names:tc:xliff:document:2.0" version="2.0" srcLang="en" trgLang="es">${body}`;
export function hostileXliff(dice: Dice): string {
  const many = (piece: string) => piece.repeat(times(dice, XLIFF, piece.length));
  return oneOf<() => string>(dice, [
    () => doc(many('<a>')),
    () => doc(many('<file>')),
    () => doc(`<file id="f"><unit id="u">${many('<segment><source>a</source><target>b</target></segment>')}`),
    () => doc(`<file id="broadcast-1"><unit id="u"><originalData>${many('<data id="d">x</data>')}</originalData>`),
    () => doc(`<file id="broadcast-1"><unit id="u"><segment><source>${many('<ph id="1" dataRef="d"/>')}`),
    () => doc(`<file ${Array.from({ length: times(dice, XLIFF, 14) }, (_, i) => `a${i}="b"`).join(' ')}>`),
    () => doc(`<file id="${many('&amp;')}">`),
    () => doc(many('&#x41;')),
    () => doc(`<![CDATA[${many(']]')}`),
    () => doc(`<!--${many('- -')}`),
    () => `<!DOCTYPE a [${many('<!ENTITY b "bbbbbbbbbb">')}]><xliff>&b;</xliff>`,
    () => doc(Array.from({ length: times(dice, XLIFF, 30) }, (_, i) => `<a:b xmlns:a="urn:${i}"/>`).join('')),
  ])();
}

/** Codes are kept, so that most lists hold few that are new. */
const CODES = 8_000_000;
export function hostileCodes(dice: Dice, n: number): string {
  const many = (piece: string) => piece.repeat(times(dice, CODES, piece.length));
  return oneOf<() => string>(dice, [
    () => Array.from({ length: n % 50 === 2 ? 199_000 : dice.between(1, 8000) }, (_, i) => `${n}-${i.toString(36)}`).join('\n'),
    () => many('A1\n'),
    () => many('"'),
    () => many('"""",'),
    () => many('\r\n'),
    () => many(`${'x'.repeat(61)}\n`),
    () => many('x'),
    () => many('é,é;é\té\n'),
    () => many('\u0000\n'),
  ])();
}

const CARD = 4_000_000;
export function hostileCard(dice: Dice): string {
  const many = (piece: string) => piece.repeat(times(dice, CARD, piece.length));
  const card = (lines: string) => `BEGIN:VCARD\nVERSION:2.1\nN:A;B\nTEL:2075550142\n${lines}\nEND:VCARD`;
  return oneOf<() => string>(dice, [
    () => card(`NOTE;ENCODING=QUOTED-PRINTABLE:${many('=C3=A9=\n')}x`),
    () => card(`NOTE:${many('a\n ')}`),
    () => card(`TEL${many(';TYPE=CELL')}:1`),
    () => card(`TEL${many(';X="a;b"')}:1`),
    () => card(many('TEL:2075550142\n')),
    () => card(many('BEGIN:X\n')),
    () => card(`CATEGORIES:${many(',')}`),
    () => card(`N:${many(';')}`),
    () => card(`NOTE:${many('\\n')}`),
    () => card(`PHOTO;ENCODING=b:${many('AAAA\n ')}`),
    () => 'BEGIN:VCARD\n'.repeat(dice.between(1, 20_000)),
    () => 'BEGIN:VCARD\nFN:A\nEND:VCARD\n'.repeat(dice.between(1, 20_000)),
    () => `Mobile,Note\n"${many('""')}`,
    () => `Mobile,Note\n${many('"x",')}`,
    () => `Mobile\n${many('\n')}2075550142`,
    () => `Mobile;Note,a|b\t${many(',;|\t')}`,
  ])();
}

const SHEET = 6_000_000;
export function hostileWorkbook(dice: Dice): Uint8Array {
  const many = (piece: string) => piece.repeat(times(dice, SHEET, piece.length));
  return oneOf<() => Uint8Array>(dice, [
    () => workbook(many('<a>')),
    () => workbook(many('<row><c><v>1</v></c></row>')),
    () => workbook(`<row r="1">${many('<c><v>1</v></c>')}</row>`),
    () => workbook(`<row r="1"><c t="inlineStr"><is><t>${many('x')}</t></is></c></row>`),
    () => workbook(`<row r="1"><c ${Array.from({ length: times(dice, SHEET, 10) }, (_, i) => `a${i}="b"`).join(' ')}/></row>`),
    () => workbook(many('<!-- -->')),
    () =>
      workbook(`<row><c t="s"><v>0</v></c></row>`.repeat(dice.between(1, 600)), {
        'xl/sharedStrings.xml': `<sst><si><t>${many('x')}</t></si></sst>`,
      }),
    () => workbook('<row><c t="s"><v>1</v></c></row>', { 'xl/sharedStrings.xml': `<sst>${many('<si><t>x</t></si>')}</sst>` }),
    () => spreadsheet(many('<table:table-row><table:table-cell><text:p>x</text:p></table:table-cell></table:table-row>')),
    () =>
      spreadsheet(
        `<table:table-row table:number-rows-repeated="${dice.between(1, 5000)}"><table:table-cell table:number-columns-repeated="${dice.between(1, 300)}"><text:p>x</text:p></table:table-cell></table:table-row>`.repeat(
          dice.between(1, 300),
        ),
      ),
    () => zipOf({ 'xl/workbook.xml': Buffer.alloc(dice.between(1, 80) << 20, 32) }),
    () => zipOf(Object.fromEntries(Array.from({ length: dice.between(1, 3000) }, (_, i) => [`xl/${i}.xml`, '<a/>']))),
  ])();
}
