import { RangeSetBuilder, StateEffect, StateField, type EditorState } from '@codemirror/state';
import { Decoration, EditorView, ViewPlugin, WidgetType, type DecorationSet, type ViewUpdate } from '@codemirror/view';
import { chipWords } from '../../../core/merge/chip-words';
import { parseText, type FieldNode } from '../../../core/merge/syntax';
import { forcing } from '../../../core/text/plain-replacements';

/** Names that are known, so that the others show as wrong; and the day it is, so that dates read as they will. */
export interface Known {
  known: ReadonlyMap<string, string>;
  today: string;
  language: string;
}

export const setKnown = StateEffect.define<Known>();
export const knownField = StateField.define<Known>({
  create: () => ({ known: new Map(), today: '2026-01-01', language: 'en' }),
  update: (value, transaction) =>
    transaction.effects.reduce((known, effect) => (effect.is(setKnown) ? effect.value : known), value),
});

/** A placeholder shown as a chip; plain text in storage. */
class Chip extends WidgetType {
  constructor(
    readonly words: string,
    readonly extra: string,
    readonly wrong: boolean,
  ) {
    super();
  }
  override eq(other: Chip): boolean {
    return other.words === this.words && other.extra === this.extra && other.wrong === this.wrong;
  }
  override toDOM(): HTMLElement {
    const chip = document.createElement('span');
    chip.className = `cm-chip${this.wrong ? ' wrong' : ''}`;
    chip.textContent = this.words;
    chip.title = 'Press to change it, or Alt+Enter beside it';
    if (this.extra) {
      const fallback = document.createElement('i');
      fallback.textContent = this.extra;
      chip.append(fallback);
    }
    return chip;
  }
  /** It is pressed to be changed. */
  override ignoreEvent(): boolean {
    return false;
  }
}

/** The placeholder at a place: that begins there, or that the cursor touches. */
export function fieldAt(state: EditorState, from: number, to = from): FieldNode | undefined {
  const fields = parseText(state.doc.toString()).nodes.filter((node) => node.kind === 'field');
  return from === to
    ? (fields.find((node) => node.from === from) ?? fields.find((node) => node.to === from))
    : fields.find((node) => node.from === from && node.to === to);
}

function decorate(state: EditorState): { chips: DecorationSet; atoms: DecorationSet } {
  const source = state.doc.toString();
  const { known, today, language } = state.field(knownField);
  const chips = new RangeSetBuilder<Decoration>();
  const atoms = new RangeSetBuilder<Decoration>();
  const marks: { from: number; to: number; decoration: Decoration; atom: boolean }[] = [];
  for (const node of parseText(source).nodes) {
    if (node.kind === 'words') continue;
    const { name, extra, known: isKnown } = chipWords(node, known, { today, language });
    const widget = new Chip(name, extra, !isKnown);
    marks.push({ from: node.from, to: node.to, decoration: Decoration.replace({ widget }), atom: true });
  }
  for (const each of forcing(source)) {
    for (const at of each.at) {
      if (!marks.some((mark) => mark.atom && at >= mark.from && at < mark.to))
        marks.push({
          from: at,
          to: at + each.character.length,
          decoration: Decoration.mark({ class: 'cm-forcing', attributes: { title: 'forces extended characters' } }),
          atom: false,
        });
    }
  }
  marks.sort((a, b) => a.from - b.from);
  for (const mark of marks) {
    chips.add(mark.from, mark.to, mark.decoration);
    if (mark.atom) atoms.add(mark.from, mark.to, mark.decoration);
  }
  return { chips: chips.finish(), atoms: atoms.finish() };
}

/** Placeholders as chips over which the cursor steps at once. */
export const chipPlugin = ViewPlugin.fromClass(
  class {
    sets: ReturnType<typeof decorate>;
    constructor(view: EditorView) {
      this.sets = decorate(view.state);
    }
    update(update: ViewUpdate): void {
      if (update.docChanged || update.startState.field(knownField) !== update.state.field(knownField))
        this.sets = decorate(update.state);
    }
  },
  {
    decorations: (plugin) => plugin.sets.chips,
    provide: (plugin) => EditorView.atomicRanges.of((view) => view.plugin(plugin)?.sets.atoms ?? Decoration.none),
  },
);
