import type { Draft } from '../draft/draft';
import type { PlanWorkspace } from '../reach/person';

/**
 * What a text of a language ends with, or is followed by, so that its reader can say stop: this broadcast's own wording for it, else the workspace's, else
 * that of the first language; with a link, the link follows it. Empty where the words say it themselves.
 */
export function optOutEnding(
  draft: Pick<Draft, 'opt_out' | 'opt_out_words'>,
  workspace: Pick<PlanWorkspace, 'languages' | 'opt_out_wording' | 'opt_out_link_wording'>,
  language: string,
): string {
  if (draft.opt_out === 'none') return '';
  const link = draft.opt_out === 'link';
  const wordings = { ...(link ? workspace.opt_out_link_wording : workspace.opt_out_wording), ...blankless(draft.opt_out_words) };
  const words = (wordings[language] ?? wordings[workspace.languages[0]] ?? '').trim();
  return link ? `${words} {opt_out_link}`.trim() : words;
}

const blankless = (wordings: Record<string, string> | undefined): Record<string, string> =>
  Object.fromEntries(Object.entries(wordings ?? {}).filter(([, words]) => words.trim() !== ''));
