import type { ReactNode } from 'react';
import { parseText } from '../../../core/merge/syntax';
import { Bit } from '../../pieces/layout';

/** Words to be read: what is filled in stands as its name. */
export function InWords({ words, known }: { words: string; known: ReadonlyMap<string, string> }): ReactNode {
  return parseText(words).nodes.map((node) => {
    if (node.kind === 'words') return node.text;
    const name = node.kind === 'link' ? `link ${node.name}` : node.name;
    return (
      <Bit lake key={node.from}>
        {known.get(name) ?? name.replaceAll('_', ' ')}
      </Bit>
    );
  });
}
