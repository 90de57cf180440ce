import {
  autocompletion,
  closeCompletion,
  completionKeymap,
  startCompletion,
  type Completion,
  type CompletionContext,
  type CompletionResult,
} from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap, insertNewline } from '@codemirror/commands';
import { EditorState, StateEffect, type Extension } from '@codemirror/state';
import { EditorView, keymap, placeholder } from '@codemirror/view';
import type { FieldNode } from '../../../core/merge/syntax';
import { withoutUnseen } from '../../../core/text/unseen';
import { chipPlugin, fieldAt, knownField } from './editor-chips';
import { EDITOR_THEME } from './editor-theme';
import { offersFound } from './found-offers';

export interface Offer {
  /** What is put in, e.g. `{given_name or "neighbor"}`. */
  insert: string;
  label: string;
  /** What it gives for the person in the proof. */
  gives: string;
  group: string;
  /** What is done instead of putting in: something is made first. */
  act?: () => void;
}

/** What the editor asks of the component around it, each time anew: what that was given may have changed since. */
export interface Around {
  offers: () => readonly Offer[];
  /** Opens the form of a chip; false where there is none. */
  openChip: (editor: EditorView, node: FieldNode | undefined) => boolean;
  changed: (words: string) => void;
  /** So many characters that cannot be seen have been dealt with. */
  tookUnseen: (characters: number) => void;
}

interface Looks {
  readOnly: boolean;
  /** Stands there while there are no words. */
  hint: string;
  labelledBy: string;
  /** In which the words are. */
  language: string;
}

const tookUnseen = StateEffect.define<number>();

/** What is pasted or put in comes without what cannot be seen, in one step with it, so that undoing takes both back. */
const withoutWhatIsUnseen = EditorState.transactionFilter.of((transaction) => {
  if (!transaction.docChanged || transaction.isUserEvent('undo') || transaction.isUserEvent('redo')) return transaction;
  // letters that are still being composed are the input method's
  if (transaction.isUserEvent('input.type.compose')) return transaction;
  const changes: { from: number; to: number; insert: string }[] = [];
  let taken = 0;
  transaction.changes.iterChanges((_fromA, _toA, from, to, inserted) => {
    const { words, changed } = withoutUnseen(inserted.toString());
    if (changed === 0) return;
    taken += changed;
    changes.push({ from, to, insert: words });
  });
  return taken === 0 ? transaction : [transaction, { changes, effects: tookUnseen.of(taken), sequential: true }];
});

/** An editor's state to begin with: chips, one key (`{`) that offers what can be put in, and a label. */
export function editorState(doc: string, around: Around, { readOnly, hint, labelledBy, language }: Looks): EditorState {
  const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce ?? '';
  return EditorState.create({
    doc,
    extensions: [
      knownField,
      chipPlugin,
      history(),
      autocompletion({
        override: [(context) => complete(context, around.offers())],
        icons: false,
        interactionDelay: 0,
        activateOnTyping: true,
        defaultKeymap: false,
      }),
      keys(around),
      pressed(around),
      EditorView.lineWrapping,
      EditorView.cspNonce.of(nonce),
      EditorState.readOnly.of(readOnly),
      placeholder(hint),
      EditorView.contentAttributes.of({
        'aria-labelledby': labelledBy,
        role: 'textbox',
        'aria-multiline': 'true',
        spellcheck: 'true',
        lang: language,
      }),
      EDITOR_THEME,
      withoutWhatIsUnseen,
      EditorView.updateListener.of((update) => {
        if (!update.docChanged) return;
        around.changed(update.state.doc.toString());
        for (const { effects } of update.transactions)
          for (const effect of effects) if (effect.is(tookUnseen)) around.tookUnseen(effect.value);
        let typedBrace = false;
        update.changes.iterChanges((_fromA, _toA, _fromB, _toB, inserted) => (typedBrace ||= inserted.toString() === '{'));
        if (typedBrace) setTimeout(() => startCompletion(update.view), 0);
      }),
    ],
  });
}

function complete(context: CompletionContext, offers: readonly Offer[]): CompletionResult | null {
  const before = context.matchBefore(/\{[^{}\n]{0,40}$/);
  if (!before) return null;
  const found = offersFound(offers, before.text.slice(1));
  if (found.length === 0) return null;
  // groups stand in the order of the best that they have
  const groups = [...new Set(found.map((offer) => offer.group))];
  const options: Completion[] = found.map((offer) => ({
    label: `{${offer.label}`,
    displayLabel: offer.label,
    detail: offer.gives,
    section: { name: offer.group, rank: groups.indexOf(offer.group) },
    apply: (editor, _completion, from, to) => {
      editor.dispatch({ changes: { from, to, insert: offer.insert }, selection: { anchor: from + offer.insert.length } });
      offer.act?.();
    },
  }));
  // found by ourselves, anew and at once with each letter: what is pressed right after it is pressed on what is shown
  return { from: before.from, options, filter: false, update: (_result, _from, _to, now) => complete(now, offers) };
}

function keys({ openChip }: Around): Extension {
  return keymap.of([
    ...completionKeymap,
    {
      // a chip that is chosen is opened; anywhere else it ends the line
      key: 'Enter',
      run: (editor) => {
        const { from, to } = editor.state.selection.main;
        return from < to && openChip(editor, fieldAt(editor.state, from, to));
      },
    },
    { key: 'Alt-Enter', run: (editor) => openChip(editor, fieldAt(editor.state, editor.state.selection.main.head)) },
    { key: 'Enter', run: insertNewline },
    { key: 'Escape', run: closeCompletion },
    ...historyKeymap,
    ...defaultKeymap,
  ]);
}

function pressed({ openChip }: Around): Extension {
  return EditorView.domEventHandlers({
    keydown: (event, editor) => {
      const { from, empty } = editor.state.selection.main;
      if (event.key !== '{' || !empty || event.isComposing || fieldAt(editor.state, from)?.from !== from) return false;
      // right before a chip it would join the chip's own brace and be a literal one: a space keeps them apart
      editor.dispatch({ changes: { from, insert: '{ ' }, selection: { anchor: from + 1 }, userEvent: 'input.type' });
      startCompletion(editor);
      return true;
    },
    mousedown: (event, editor) => {
      const chip = event.target instanceof Element ? event.target.closest('.cm-chip') : null;
      return chip !== null && openChip(editor, fieldAt(editor.state, editor.posAtDOM(chip)));
    },
  });
}
