import { broadcasts } from '../../../core/api/sending/broadcasts';
import { BUILT_IN } from '../../../core/merge/compile';
import { writeXliff } from '../../../core/xliff/write';
import type { Queryable } from '../../db/db';
import { nothingHere, Refusal } from '../../../core/api/refusal';
import { idOf, Download, fileOf, route, type Route } from '../../http/route';
import { workspaceOf } from '../../setup/for-others';
import { broadcastById } from './broadcast-queries';

async function labelsOf(db: Queryable): Promise<(slug: string) => string> {
  const { rows } = await db.query<{ slug: string; label: string }>(`SELECT slug, label FROM field_def`);
  const labels = new Map([...BUILT_IN, ...rows].map(({ slug, label }) => [slug, label]));
  return (slug) => labels.get(slug) ?? slug.replaceAll('_', ' ');
}

export const xliffRoutes: Route[] = [
  route(broadcasts.xliff, async (app, asked) => {
    const found = await broadcastById(app.db, idOf(asked.params.id));
    if (!found) throw nothingHere();
    const { language, whole } = asked.query;
    const { languages } = await workspaceOf(app.db);
    if (found.draft.words.trim() === '')
      throw new Refusal('wrong', 'words', 'There are no words to translate yet.', { place: 'words' });
    const xml = writeXliff({
      id: `broadcast-${found.id}`,
      name: found.name,
      from: languages[0],
      to: language,
      source: found.draft.words,
      target: whole === 'no' ? undefined : found.draft.translations?.[language],
      say: await labelsOf(app.db),
    });
    return new Download(`${found.name || `broadcast ${found.id}`}.${language}.xlf`, 'application/xliff+xml', xml);
  }),
  route(broadcasts.readXliff, async (app, asked) => {
    const found = await broadcastById(app.db, idOf(asked.params.id));
    if (!found) throw nothingHere();
    const read = await app.handedIn.read('xliff', {
      path: fileOf(asked).path,
      id: `broadcast-${found.id}`,
      source: found.draft.words,
      to: asked.query.language,
    });
    const { wrong, place } =
      'wrong' in read
        ? read
        : { wrong: read.words === undefined ? 'There is no translation in it yet.' : undefined, place: 'target' };
    if (wrong !== undefined) throw new Refusal('wrong', 'xliff', wrong, { place, kept: 'The words there are as they were.' });
    return { words: ('words' in read && read.words) || '' };
  }),
];
