import {
  autocompletion,
  closeCompletion,
  completionKeymap,
  startCompletion,
  type Completion,
  type CompletionContext,
} from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap, insertNewline } from '@codemirror/commands';
import { EditorState, RangeSetBuilder, StateEffect, StateField } from '@codemirror/state';
import {
  Decoration,
  EditorView,
  keymap,
  placeholder,
  ViewPlugin,
  WidgetType,
  type DecorationSet,
  type ViewUpdate,
} from '@codemirror/view';
import { styled } from '@mui/material/styles';
import { useEffect, useRef } from 'react';
import { formatDay, patternProblem, plusDays } from '../../core/merge/date-pattern';
import { parseText, type FieldNode } from '../../core/merge/syntax';
import { forcing } from '../../core/text/plain-replacements';

export interface Offer {
  /** What is put in, e.g. `{given_name or "neighbor"}`. */
  insert: string;
  label: string;
  /** What it gives for the person in the proof. */
  gives: string;
  group: string;
}

const Box = styled('div')(({ theme }) => ({
  border: `1px solid ${theme.bell.edge}`,
  background: theme.bell.card,
  borderRadius: 4,
  '&:focus-within': { outline: `3px solid ${theme.bell.lake}`, outlineOffset: -1 },
}));

/** Names that are known, so that the others show as wrong; and the day it is, so that dates read as they will. */
interface Known {
  known: ReadonlyMap<string, string>;
  today: string;
  language: string;
}

/** A date as it will read: a pattern says nothing to anyone. */
function read(node: FieldNode, today: string, language: string): string {
  if (node.pattern === undefined || patternProblem(node.pattern) !== undefined) return node.pattern ?? '';
  return formatDay(node.plusDays ? plusDays(today, node.plusDays) : today, node.pattern, language);
}

const setKnown = StateEffect.define<Known>();
const knownField = StateField.define<Known>({
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
    if (this.extra) {
      const fallback = document.createElement('i');
      fallback.textContent = this.extra;
      chip.append(fallback);
    }
    return chip;
  }
}

function decorate(state: EditorState): { chips: DecorationSet; atoms: DecorationSet } {
  const source = state.doc.toString();
  const { known, today, language } = state.field(knownField);
  const chips = new RangeSetBuilder<Decoration>();
  const atoms = new RangeSetBuilder<Decoration>();
  const marks: { from: number; to: number; decoration: Decoration; atom: boolean }[] = [];
  for (const node of parseText(source).nodes) {
    if (node.kind === 'words') continue;
    const name = node.kind === 'link' ? `link ${node.name}` : node.name;
    const words =
      (known.get(name) ?? name.replaceAll('_', ' ')) +
      (node.kind === 'field' && node.plusDays ? ` + ${node.plusDays} ${node.plusDays === 1 ? 'day' : 'days'}` : '');
    const extra =
      node.kind !== 'field'
        ? ''
        : node.fallback
          ? ` or ${node.fallback}`
          : node.pattern
            ? `: ${read(node, today, language)}`
            : '';
    const widget = new Chip(words, extra, !known.has(name));
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

const chipPlugin = ViewPlugin.fromClass(
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

/**
 * The words: CodeMirror with placeholders as chips, and one key, `{`, that offers everything that can be put in.
 * `insert` on the returned handle puts something at the cursor.
 */
export function Editor({
  value,
  onChange,
  known,
  today,
  language,
  offers,
  labelledBy,
  readOnly,
  handle,
}: {
  value: string;
  onChange: (value: string) => void;
  known: ReadonlyMap<string, string>;
  /** `YYYY-MM-DD`. */
  today: string;
  /** In which the words are: dates read as it writes them. */
  language: string;
  offers: readonly Offer[];
  labelledBy: string;
  readOnly: boolean;
  handle: { current: ((text: string) => void) | undefined };
}) {
  const box = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | undefined>(undefined);
  const groups = [...new Set(offers.map((offer) => offer.group))];
  const latest = useRef({ onChange, offers, groups });
  latest.current = { onChange, offers, groups };
  const first = useRef(value);
  useEffect(() => {
    if (!box.current) return;
    const complete = (context: CompletionContext) => {
      const before = context.matchBefore(/\{[\w "]*/);
      if (!before) return null;
      const options: Completion[] = latest.current.offers.map((offer, at) => ({
        boost: 50 - at, // in the order given, not by the alphabet
        label: `{${offer.label}`,
        displayLabel: offer.label,
        detail: offer.gives,
        section: { name: offer.group, rank: latest.current.groups.indexOf(offer.group) },
        apply: (editor, _completion, from, to) =>
          editor.dispatch({ changes: { from, to, insert: offer.insert }, selection: { anchor: from + offer.insert.length } }),
      }));
      return { from: before.from, options, validFor: /^\{[\w ]*$/ };
    };
    const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce ?? '';
    const editor = new EditorView({
      parent: box.current,
      state: EditorState.create({
        doc: first.current,
        extensions: [
          knownField,
          chipPlugin,
          history(),
          autocompletion({
            override: [complete],
            icons: false,
            interactionDelay: 0,
            activateOnTyping: true,
            defaultKeymap: false,
          }),
          keymap.of([
            ...completionKeymap,
            { key: 'Enter', run: insertNewline },
            { key: 'Escape', run: closeCompletion },
            ...historyKeymap,
            ...defaultKeymap,
          ]),
          EditorView.lineWrapping,
          EditorView.cspNonce.of(nonce),
          EditorState.readOnly.of(readOnly),
          placeholder('Write the text. Type { for a name, a date or a link.'),
          EditorView.contentAttributes.of({
            'aria-labelledby': labelledBy,
            role: 'textbox',
            'aria-multiline': 'true',
            spellcheck: 'true',
            lang: language,
          }),
          EditorView.theme({
            '&': { fontSize: '16.5px', minHeight: '150px', backgroundColor: 'transparent', color: 'var(--ink)' },
            '&.cm-focused': { outline: 'none' },
            '.cm-scroller': { fontFamily: 'inherit', lineHeight: '1.7', minHeight: '150px' },
            '.cm-content': { padding: '12px 14px', caretColor: 'var(--ink)' },
            '.cm-line': { padding: '0' },
            '.cm-cursor': { borderLeftColor: 'var(--ink)' },
            '.cm-placeholder': { color: 'var(--soft)' },
            '.cm-chip': {
              backgroundColor: 'var(--lake-wash)',
              color: 'var(--lake)',
              borderBottom: '2px solid var(--lake)',
              borderRadius: '3px 3px 0 0',
              padding: '1px 5px',
              whiteSpace: 'nowrap',
            },
            '.cm-chip i': { fontStyle: 'normal', color: 'var(--soft)' },
            '.cm-chip.wrong': { backgroundColor: 'var(--brick-wash)', color: 'var(--brick)', borderColor: 'var(--brick)' },
            '.cm-forcing': { backgroundColor: 'var(--brick-wash)', borderBottom: '2px solid var(--brick)' },
            '.cm-tooltip': {
              backgroundColor: 'var(--card)',
              color: 'var(--ink)',
              border: '1px solid var(--edge)',
              borderRadius: '4px',
            },
            '.cm-tooltip.cm-tooltip-autocomplete > ul': { fontFamily: 'inherit', maxHeight: '300px', minWidth: '330px' },
            '.cm-tooltip.cm-tooltip-autocomplete > ul > completion-section': {
              color: 'var(--soft)',
              fontSize: '13px',
              padding: '6px 10px 2px',
              borderBottom: '1px solid var(--hairline)',
              opacity: '1',
            },
            '.cm-tooltip.cm-tooltip-autocomplete > ul > li': {
              display: 'flex',
              justifyContent: 'space-between',
              gap: '16px',
              padding: '4px 10px',
            },
            '.cm-tooltip-autocomplete > ul > li': { padding: '4px 10px', fontFamily: 'inherit', fontSize: '15px' },
            '.cm-tooltip-autocomplete > ul > li[aria-selected]': { backgroundColor: 'var(--lake)', color: 'var(--on-lake)' },
            '.cm-completionDetail': {
              fontStyle: 'normal',
              color: 'inherit',
              opacity: '1',
              marginLeft: '12px',
              maxWidth: '180px',
              overflow: 'hidden',
              textOverflow: 'ellipsis',
            },
          }),
          EditorView.updateListener.of((update) => {
            if (!update.docChanged) return;
            latest.current.onChange(update.state.doc.toString());
            let typedBrace = false;
            update.changes.iterChanges((_fromA, _toA, _fromB, _toB, inserted) => (typedBrace ||= inserted.toString() === '{'));
            if (typedBrace) setTimeout(() => startCompletion(update.view), 0);
          }),
        ],
      }),
    });
    view.current = editor;
    handle.current = (text) => {
      const { from, to } = editor.state.selection.main;
      editor.dispatch({ changes: { from, to, insert: text }, selection: { anchor: from + text.length } });
      editor.focus();
    };
    return () => {
      handle.current = undefined;
      editor.destroy();
    };
  }, [handle, labelledBy, readOnly, language]);
  useEffect(() => {
    view.current?.dispatch({ effects: setKnown.of({ known, today, language }) });
  }, [known, today, language, readOnly]);
  // words changed from outside (a replacement pressed, the draft reloaded)
  useEffect(() => {
    const editor = view.current;
    if (editor && editor.state.doc.toString() !== value)
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } });
  }, [value]);
  return <Box ref={box} />;
}
