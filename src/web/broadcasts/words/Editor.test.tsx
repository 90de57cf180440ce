import { undo } from '@codemirror/commands';
import { EditorView } from '@codemirror/view';
import { act, render, screen } from '@testing-library/react';
import { ThemeProvider } from '@mui/material/styles';
import { expect, test } from 'vitest';
import { Said } from '../../pieces/Said';
import { themeOf } from '../../theme/theme';
import { Editor } from './Editor';

const NONE = new Map<string, never>();

/** An editor whose value comes back when the test says so. */
function editor(first: string) {
  const told: string[] = [];
  const handle: { current: ((text: string) => void) | undefined } = { current: undefined };
  const ui = (value: string) => (
    <ThemeProvider theme={themeOf('light')}>
      <Said>
        <Editor
          value={value}
          onChange={(words) => told.push(words)}
          known={NONE}
          types={NONE}
          today="2026-12-02"
          language="en"
          offers={[]}
          labelledBy="words"
          readOnly={false}
          handle={handle}
        />
      </Said>
    </ThemeProvider>
  );
  const { rerender } = render(ui(first));
  return {
    told,
    undo: () =>
      act(() => {
        const view = EditorView.findFromDOM(document.body);
        if (view) undo(view);
      }),
    type: (text: string) => act(() => handle.current?.(text)),
    comesBack: (value: string) => rerender(ui(value)),
  };
}

test('what was typed comes back late and replaces nothing that was typed since', () => {
  const { told, type, comesBack } = editor('');
  type('a');
  type('b');
  comesBack('a');
  type('c');
  comesBack('ab');
  comesBack('abc');
  type('d');
  expect(told).toEqual(['a', 'ab', 'abc', 'abcd']);
});

test('words from elsewhere stand, also when they are what once was typed', () => {
  const { told, type, comesBack } = editor('');
  type('a');
  comesBack('a');
  type('b');
  comesBack('ab');
  comesBack('from another desk');
  comesBack('a');
  type('!');
  // where the cursor is after a change from elsewhere is of no account here
  expect([...(told.at(-1) ?? '')].sort().join('')).toBe('!a');
});

test('what cannot be seen never comes in with what is put in, is told, and goes back with it', async () => {
  const { told, type, undo: back } = editor('The Heron ');
  type('is\u200b late\u00a0today \ud83d\udc69\u200d\ud83d\ude80');
  expect(told.at(-1)).toBe('is late today \ud83d\udc69\u200d\ud83d\ude80The Heron ');
  await screen.findByText('2 characters that cannot be seen were in it, and were dealt with.');
  back();
  expect(told.at(-1)).toBe('The Heron ');
});

test('words of before are dealt with as they are opened', () => {
  const { told } = editor('\ufeffThe Heron');
  expect(told).toEqual(['The Heron']);
});
