import { Dialog, DialogContent, DialogTitle, FormControlLabel, Switch } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { Facts, Words } from '../pieces/layout';
import { AREAS } from './areas';
import { chooseSingleKeys, useSingleKeys } from './single-keys';

const Key = styled('kbd')(({ theme }) => ({
  font: 'inherit',
  border: `1px solid ${theme.bell.edge}`,
  borderBottomWidth: 2,
  borderRadius: 4,
  padding: '0 6px',
  background: theme.bell.ground,
  color: theme.bell.ink,
}));

/** Keys that do something by themselves, and what they do. None of them sends. */
const KEYS: readonly (readonly [keys: readonly string[], what: string])[] = [
  [['Ctrl', 'K'], 'Go to a person, list, broadcast, run or setting, or begin a broadcast'],
  ...AREAS.map(({ key, name }) => [[key.toUpperCase()], `Go to ${name}`] as const),
  [['N'], 'Begin a broadcast'],
  [['F'], 'Find in this view'],
  [['['], 'The day before, on the bell line'],
  [[']'], 'The day after'],
  [['?'], 'This sheet'],
];
/** Keys within things. */
const WITHIN: readonly (readonly [keys: readonly string[], what: string])[] = [
  [['↑', '↓'], 'From row to row of a table'],
  [['Space'], 'Choose the row; with Shift, all from the last one'],
  [['Enter'], 'Open the row'],
  [['{'], 'In words: put in a field, a link or a date; twice for a brace'],
  [['Esc'], 'Close what is open'],
];

function Keys({ of }: { of: typeof KEYS }): ReactNode {
  return (
    <Facts pad="8px 0 16px">
      {of.map(([keys, what]) => [
        <dt key={`${what}-keys`}>
          {keys.map((key, at) => (
            <span key={key}>
              {at > 0 && ' '}
              <Key>{key}</Key>
            </span>
          ))}
        </dt>,
        <dd key={what}>{what}</dd>,
      ])}
    </Facts>
  );
}

/** The sheet of keys, and whether single ones work. */
export default function KeySheet({ close }: { close: () => void }): ReactNode {
  const single = useSingleKeys();
  return (
    <Dialog open onClose={close} maxWidth="sm" fullWidth>
      <DialogTitle>Keys</DialogTitle>
      <DialogContent>
        <Keys of={KEYS} />
        <h3>Within tables and words</h3>
        <Keys of={WITHIN} />
        <FormControlLabel
          control={<Switch checked={single} onChange={(_event, work) => chooseSingleKeys(work)} />}
          label="Single keys work in this browser"
        />
        <Words soft small>
          No key sends: that is always a press of the yellow button, after the last look.
        </Words>
      </DialogContent>
    </Dialog>
  );
}
