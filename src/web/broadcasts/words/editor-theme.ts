import { EditorView } from '@codemirror/view';

/** How the words look: our type, chips in lake, what forces extended characters in brick; colors are the theme's variables. */
export const EDITOR_THEME = EditorView.theme({
  '&': { fontSize: '16.5px', minHeight: '150px', backgroundColor: 'transparent', color: 'var(--ink)' },
  '&.cm-focused': { outline: 'none' },
  '.cm-scroller': { fontFamily: 'inherit', lineHeight: '1.7', minHeight: '150px' },
  // the whole box takes the caret, not only the lines that are there
  '.cm-content': { padding: '12px 14px', caretColor: 'var(--ink)', minHeight: '150px', boxSizing: 'border-box' },
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
    fontFamily: 'inherit',
    fontSize: '15px',
  },
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
});
