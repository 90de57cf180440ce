import type { Answer } from '../../../core/api/endpoint';
import type { broadcasts } from '../../../core/api/sending/broadcasts';
import type { Draft } from '../../../core/plan/draft/draft';
import { proposalsFor } from '../../../core/wording/proposals';
import type { Plans } from '../planning/plan-thread';

/** Proposals of a draft's words in one language, each planned over the real audience; what saves most comes first. */
export async function shorterWords(
  plans: Plans,
  asked: { draft: Draft; language: string; first: string; now: number; holder: string },
): Promise<Answer<typeof broadcasts.shorter>['proposals']> {
  const { draft, language, first, now, holder } = asked;
  const source = language === first ? draft.words : (draft.translations?.[language] ?? '');
  const proposals = proposalsFor(source, language);
  if (proposals.length === 0) return [];
  const before = (await plans.summary(draft, now, holder)).plan;
  const told = [];
  for (const proposal of proposals) {
    const { words } = proposal;
    const changed: Draft =
      language === first ? { ...draft, words } : { ...draft, translations: { ...draft.translations, [language]: words } };
    const { plan } = await plans.summary(changed, now, holder);
    told.push({ ...proposal, saves_parts: before.parts - plan.parts, saves_micro: before.cost_micro - plan.cost_micro });
  }
  return told.sort((a, b) => b.saves_micro - a.saves_micro || b.saves_parts - a.saves_parts);
}
