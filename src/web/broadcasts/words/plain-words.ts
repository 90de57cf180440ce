import { parseText } from '../../../core/merge/syntax';

/** The words as a line: what is filled in for each recipient stands as dots. */
export const inPlainWords = (words: string): string =>
  parseText(words)
    .nodes.map((node) => (node.kind === 'words' ? node.text : '…'))
    .join('')
    .replace(/\s+/g, ' ')
    .replace(/…( ?…)+/g, '…');
