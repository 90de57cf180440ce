import type { PreparedKind } from '../../core/api/sending/templates';

/** How prepared words of each kind are called, and what they are for. */
export const KINDS: Readonly<Record<PreparedKind, { one: string; fresh: string; many: string; none: string; empty: string }>> = {
  template: {
    one: 'template',
    fresh: 'New template',
    many: 'Templates',
    none: 'No template yet',
    empty: 'A template is a whole text, in each language it has, with its links. A broadcast takes up a copy of it.',
  },
  piece: {
    one: 'piece',
    fresh: 'New piece',
    many: 'Saved pieces',
    none: 'No saved piece yet',
    empty: 'A piece is a few words that are written again and again. It is put in with { wherever a text is written.',
  },
  answer: {
    one: 'ready answer',
    fresh: 'New ready answer',
    many: 'Ready answers',
    none: 'No ready answer yet',
    empty:
      'A ready answer is what people ask again and again. It is put in with { where a reply is answered, with the fields of whoever asks.',
  },
};
