import { keywords, type KeywordBody } from '../../core/api/desk/keywords';
import { keywordProblem } from '../../core/outcome/sign-up';
import { measure, MOST_PARTS } from '../../core/text/measure';
import type { Queryable } from '../db/db';
import { isDuplicate } from '../db/db-error';
import { writeRecord } from '../db/record';
import { refuseAlike } from '../db/named-alike';
import { nothingHere, Refusal } from '../../core/api/refusal';
import { idOf, route, who, type Route } from '../http/route';
import { workspaceOf } from '../setup/for-others';
import { allKeywords, changeKeyword, endKeyword, insertKeyword, whatIsThere } from './keyword-queries';

const KEPT = 'What you typed is still here.';
const WORDS = {
  empty: 'A keyword needs letters or figures.',
  long: 'That is too long to be texted from a poster: at most 20 letters.',
  reserved: 'That word already means something to every sender: stop, help, start, or one of their synonyms.',
  yes: 'That is how people say yes. Choose a word that nobody answers by chance.',
  figure: 'A bare number answers questions with choices. Use a word.',
} as const;

/** @throws Refusal that names the place */
async function check(db: Queryable, b: KeywordBody, self?: number): Promise<void> {
  const wrong = (place: string, title: string) => new Refusal('wrong', 'keyword', title, { place, kept: KEPT });
  const problem = keywordProblem(b.word);
  if (problem) throw wrong('word', WORDS[problem]);
  const there = await whatIsThere(db, b);
  if (there.sender === null || there.sender === 'name') throw wrong('sender_id', 'It has to be a sender that takes replies.');
  await refuseAlike(db, 'keyword', b.word.trim(), { place: 'word', sender: b.sender_id, self });
  if (b.list_id !== null && !there.list) throw wrong('list_id', 'That list is not there any more.');
  if (b.tag_id !== null && !there.tag) throw wrong('tag_id', 'That tag is not there any more.');
  if (b.asks_first && b.asks.trim() === '') throw wrong('asks', 'Write what asks them whether they want it.');
  for (const place of ['confirms', 'asks'] as const) {
    if (/[{}]/.test(b[place])) throw wrong(place, 'Fields cannot be filled in here: nothing is known of them yet.');
    if (measure(b[place]).parts > MOST_PARTS) throw wrong(place, 'That is too long.');
  }
  if (b.until_at !== null && b.from_at !== null && Date.parse(b.until_at) <= Date.parse(b.from_at))
    throw wrong('until_at', 'It would end before it begins.');
}

async function unique<T>(b: KeywordBody, act: () => Promise<T>): Promise<T> {
  try {
    return await act();
  } catch (error) {
    if (isDuplicate(error))
      throw new Refusal('clash', 'keyword', `“${b.word.trim()}” is taken at this sender.`, { place: 'word', kept: KEPT });
    throw error;
  }
}

export const keywordRoutes: Route[] = [
  route(keywords.list, async (app) => ({
    keywords: await allKeywords(app.db),
    workspace: (await workspaceOf(app.db)).name,
  })),
  route(keywords.add, async (app, asked) => {
    const { body } = asked;
    await check(app.db, body);
    const id = await unique(body, () => insertKeyword(app.db, body, asked.at, who(asked).id));
    await writeRecord(app.db, asked, 'added a keyword', body.word.trim());
    return { id };
  }),
  route(keywords.change, async (app, asked) => {
    const { body } = asked;
    await check(app.db, body, idOf(asked.params.id));
    if (!(await unique(body, () => changeKeyword(app.db, idOf(asked.params.id), body, asked.at)))) throw nothingHere();
    await writeRecord(app.db, asked, 'changed a keyword', body.word.trim());
    return {};
  }),
  route(keywords.end, async (app, asked) => {
    const word = await endKeyword(app.db, idOf(asked.params.id), asked.at);
    if (word === undefined) throw nothingHere();
    await writeRecord(app.db, asked, 'ended a keyword', word);
    return {};
  }),
];
