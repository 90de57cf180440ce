import { parseText } from '../../merge/syntax';
import { languageName } from '../../text/language';
import type { Wording } from './wordings';

/** "a, b and c". */
export const joined = (parts: readonly string[]) =>
  parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts[parts.length - 1]}`;

/** What is put in with the first wording and forgotten in another, or put in there alone. */
export function wordingsThatDiffer(wordings: readonly Wording[]): string[] {
  const putIn = (words: string) =>
    new Set(
      parseText(words).nodes.flatMap((node) =>
        node.kind === 'words' ? [] : [node.kind === 'link' ? `link ${node.name}` : node.name],
      ),
    );
  const [first, ...others] = wordings.map(({ language, words }) => ({ language, has: putIn(words) }));
  return others.flatMap(({ language, has }) => {
    const lacks = [...first.has].filter((name) => !has.has(name));
    const adds = [...has].filter((name) => !first.has.has(name));
    const told = [
      ...(lacks.length > 0 ? [`leave out ${joined(lacks.map((name) => `{${name}}`))}`] : []),
      ...(adds.length > 0
        ? [`put in ${joined(adds.map((name) => `{${name}}`))}, which the ${languageName(first.language)} words do not`]
        : []),
    ];
    return told.length > 0 ? [`The ${languageName(language)} words ${joined(told)}.`] : [];
  });
}
