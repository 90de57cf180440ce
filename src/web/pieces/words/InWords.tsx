import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { chipWords, onOneLine } from '../../../core/merge/chip-words';
import { parseText } from '../../../core/merge/syntax';
import { useFieldNames } from './field-names';

/** The editor's chip, in small: also on paper, where a ground is left out, its line stays. */
const Chip = styled('span')(({ theme: { bell } }) => ({
  background: bell.lakeWash,
  color: bell.lake,
  borderBottom: `1px solid ${bell.lake}`,
  borderRadius: '2px 2px 0 0',
  padding: '0 4px',
  '& i': { fontStyle: 'normal', color: bell.soft },
}));

/** Words to be read: what is filled in stands as a chip, wherever it stands; in a list on one line. */
export function InWords({ words, line }: { words: string; line?: boolean }): ReactNode {
  const known = useFieldNames();
  const { nodes } = parseText(words);
  return (line ? onOneLine(nodes) : nodes).map((node) => {
    if (node.kind === 'words') return node.text;
    const { name, extra } = chipWords(node, known);
    return (
      <Chip key={node.from}>
        {name}
        {extra && <i>{extra}</i>}
      </Chip>
    );
  });
}
