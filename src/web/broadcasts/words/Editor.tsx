import { completionStatus, startCompletion } from '@codemirror/autocomplete';
import { EditorView } from '@codemirror/view';
import { styled } from '@mui/material/styles';
import { useEffect, useRef, useState } from 'react';
import type { FieldType } from '../../../core/merge/compile';
import { fieldSource, type FieldNode } from '../../../core/merge/syntax';
import { withoutUnseen } from '../../../core/text/unseen';
import { useSay } from '../../pieces/Said';
import { ChipForm } from './ChipForm';
import { setKnown } from './editor-chips';
import { editorState, type Offer } from './editor-state';

export type { Offer } from './editor-state';

const Box = styled('div', { shouldForwardProp: (name) => name !== 'low' })<{ low: boolean }>(({ theme, low }) => ({
  // an answer is a line or two
  ...(low ? { '& .cm-editor, & .cm-scroller, & .cm-content': { minHeight: '64px !important' } } : {}),
  border: `1px solid ${theme.bell.edge}`,
  background: theme.bell.card,
  borderRadius: 4,
  '&:focus-within': { outline: `3px solid ${theme.bell.lake}`, outlineOffset: -1 },
}));

/** On the edge of the box: the ring says that it is typed into, so it is. */
function takeCaret(editor: EditorView | undefined, event: React.MouseEvent): void {
  if (!editor || editor.contentDOM.contains(event.target as Node)) return;
  if (event.target !== event.currentTarget && event.target !== editor.scrollDOM) return;
  event.preventDefault();
  editor.focus();
}

const unseenWords = (n: number): string =>
  n === 1
    ? 'A character that cannot be seen was in it, and was dealt with.'
    : `${n} characters that cannot be seen were in it, and were dealt with.`;

/**
 * The words: CodeMirror with placeholders as chips, and one key, `{`, that offers everything that can be put in.
 * `insert` on the returned handle puts something at the cursor.
 */
export function Editor({
  value,
  onChange,
  known,
  types,
  today,
  language,
  offers,
  labelledBy,
  readOnly,
  handle,
  low = false,
  hint = 'Write the text. Type { for a name, a date or a link.',
}: {
  value: string;
  onChange: (value: string) => void;
  known: ReadonlyMap<string, string>;
  /** What kind each field is: a date can be moved and written in several ways. */
  types: ReadonlyMap<string, FieldType>;
  /** `YYYY-MM-DD`. */
  today: string;
  /** In which the words are: dates read as it writes them. */
  language: string;
  offers: readonly Offer[];
  labelledBy: string;
  readOnly: boolean;
  handle: { current: ((text: string) => void) | undefined };
  /** Two lines high to begin with. */
  low?: boolean;
  /** What stands there while there are no words; as it was first said. */
  hint?: string;
}) {
  const box = useRef<HTMLDivElement>(null);
  const [chip, setChip] = useState<{ node: FieldNode; left: number; top: number }>();
  const view = useRef<EditorView | undefined>(undefined);
  const say = useSay();
  const latest = useRef({ onChange, offers, say });
  latest.current = { onChange, offers, say };
  const first = useRef(value);
  const firstHint = useRef(hint);
  /** What was told to be typed and has not come back as the value yet, the oldest first. */
  const told = useRef<string[]>([]);
  useEffect(() => {
    if (!box.current) return;
    const openChip = (editor: EditorView, node: FieldNode | undefined): boolean => {
      if (!node) return false;
      const at = editor.coordsAtPos(node.from);
      setChip({ node, left: at?.left ?? 0, top: (at?.bottom ?? 0) + 6 });
      return true;
    };
    const changed = (words: string) => {
      told.current.push(words);
      latest.current.onChange(words);
    };
    const tookUnseen = (n: number) => latest.current.say(unseenWords(n));
    const around = { offers: () => latest.current.offers, openChip, changed, tookUnseen };
    const looks = { readOnly, hint: firstHint.current, labelledBy, language };
    // words of before that have more than can be seen differ from what stands here, and are taken over below as what comes from outside
    const begin = readOnly ? first.current : withoutUnseen(first.current).words;
    const editor = new EditorView({ parent: box.current, state: editorState(begin, around, looks) });
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
  // what can be put in may come after the list of it was opened: it is made anew, or what came late would not be offered
  const offered = offers.map(({ group, label }) => `${group} ${label}`).join('\n');
  useEffect(() => {
    if (view.current && completionStatus(view.current.state) !== null) startCompletion(view.current);
  }, [offered]);
  // words changed from outside (a replacement pressed, the draft reloaded)
  useEffect(() => {
    const editor = view.current;
    // what was typed here comes back a moment later: it never replaces what has been typed since
    const own = told.current.indexOf(value);
    if (own >= 0) {
      told.current.splice(0, own);
      return;
    }
    if (editor && editor.state.doc.toString() !== value)
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } });
  }, [value]);
  const replace = (node: FieldNode | undefined) => {
    const editor = view.current;
    if (!editor || !chip) return;
    const insert = node ? fieldSource(node) : '';
    const { from } = chip.node;
    editor.dispatch({ changes: { from, to: chip.node.to, insert }, selection: { anchor: from + insert.length } });
    setChip(node && { ...chip, node: { ...node, from, to: from + insert.length } });
  };
  return (
    <>
      <Box ref={box} low={low} onMouseDown={(event) => takeCaret(view.current, event)} />
      {chip && (
        <ChipForm
          node={chip.node}
          label={known.get(chip.node.name) ?? chip.node.name}
          type={types.get(chip.node.name)}
          place={chip}
          today={today}
          language={language}
          change={replace}
          close={() => {
            setChip(undefined);
            view.current?.focus();
          }}
        />
      )}
    </>
  );
}
