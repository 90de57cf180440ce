import { imports } from '../../../core/api/people/imports';
import { Refusal } from '../../../core/api/refusal';
import { EMPTY_DRAFT, MOST_SOURCES } from '../../../core/plan/draft/draft';
import type { Tx } from '../../db/db';
import { idOf, route, who, type Route } from '../../http/route';
import { takeOnce } from '../../people/for-others';
import { broadcastById, firstSender, insertDraft, saveDraft } from './broadcast-queries';

const KEPT = 'The file is still on the bench.';

/** A file from the bench for one broadcast: the draft whose sheet asked for it, or a new one. */
export const fileRoutes: Route[] = [
  route(imports.useOnce, async (app, asked) => {
    const { at } = asked;
    const wanted = asked.body.broadcast_id;
    const broadcast_id = await takeOnce(app, idOf(asked.params.id), asked, async (tx, { id, readyText }) => {
      const file = { source: { kind: 'file' as const, id }, words: readyText ? '{ready_text}' : '' };
      if (wanted !== undefined) return addToDraft(tx, wanted, file, at);
      const draft = { ...EMPTY_DRAFT, to: [file.source], words: file.words, sender_id: await firstSender(tx) };
      return insertDraft(tx, { name: '', draft, account: who(asked).id, at });
    });
    return { broadcast_id };
  }),
];

/** Beside whom it goes to already; words that it has are not replaced. @throws Refusal where it is no draft, or goes to too many sources */
async function addToDraft(
  tx: Tx,
  id: number,
  file: { source: { kind: 'file'; id: number }; words: string },
  at: string,
): Promise<number> {
  await tx.query(`SELECT 1 FROM broadcast WHERE id = $1 FOR UPDATE`, [id]);
  const found = await broadcastById(tx, id);
  if (!found) throw new Refusal('clash', 'gone', 'That broadcast has been deleted.', { kept: KEPT });
  const { name, version, draft } = found;
  const to = [...draft.to, file.source];
  if (to.length > MOST_SOURCES)
    throw new Refusal('wrong', 'sources', `A broadcast goes to at most ${MOST_SOURCES} lists, files and people.`, { kept: KEPT });
  if (!(await saveDraft(tx, id, { name, version, at, draft: { ...draft, to, words: draft.words || file.words } })))
    throw new Refusal('clash', 'not-a-draft', 'That broadcast is no draft any more.', {
      kept: KEPT,
      act: 'Set it aside to change it.',
    });
  return id;
}
