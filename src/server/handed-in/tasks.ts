import { readFile } from 'node:fs/promises';
import { simpleParser } from 'mailparser';
import { readCodes, type ReadCodes } from '../../core/plan/words/codes';
import { readTranslation, XliffProblem } from '../../core/xliff/read';
import { guessEncoding, textOf } from '../files/charset';

/** Of a mail what an answer needs; the words of one who wrote in HTML only are reduced from it. */
export interface ReadMail {
  subject: string;
  /** Who wrote, by the header; '' when nobody is named. */
  from: string;
  words: string;
}

/** What is wrong with what was handed in, in a sentence with its place. */
export interface Wrong {
  wrong: string;
  place: string;
}

/** HTML that is reduced to words, characters; an answer stands at its beginning. */
const MOST_HTML = 200_000;

/** What is done in the thread, by name: each gets what can be handed over and gives back the same. */
export const tasks = {
  async codes({ path }: { path: string }): Promise<ReadCodes> {
    let text = '';
    for await (const piece of textOf(path, await guessEncoding(path))) text += piece;
    return readCodes(text);
  },

  async xliff({
    path,
    ...expected
  }: {
    path: string;
    id: string;
    source: string;
    to: string;
  }): Promise<{ words: string | undefined } | Wrong> {
    const xml = await readFile(path, 'utf8');
    try {
      return { words: readTranslation(xml.replace(/^\ufeff/, ''), expected) };
    } catch (error) {
      if (error instanceof XliffProblem) return { wrong: error.message, place: error.place };
      throw error;
    }
  },

  async mail({ bytes }: { bytes: Uint8Array }): Promise<ReadMail | Wrong> {
    try {
      return await readMail(bytes);
    } catch (error) {
      // the library's own limits (parts, headers, depth), and what is no mail
      return { wrong: error instanceof Error ? error.message : String(error), place: 'mail' };
    }
  },
};

async function readMail(bytes: Uint8Array): Promise<ReadMail> {
  const mail = await simpleParser(Buffer.from(bytes), { skipImageLinks: true, skipTextToHtml: true, skipHtmlToText: true });
  return {
    subject: mail.subject ?? '',
    from: mail.from?.value[0]?.address ?? '',
    words: mail.text || (mail.html ? await wordsOf(mail.html.slice(0, MOST_HTML)) : ''),
  };
}

/** HTML as words: what the mail package does with it, on so much of it and no more. */
async function wordsOf(html: string): Promise<string> {
  const again = await simpleParser(`Content-Type: text/html; charset=utf-8\r\n\r\n${html}`, { skipImageLinks: true });
  return again.text ?? '';
}

export type Tasks = typeof tasks;
export type TaskName = keyof Tasks;
