import { ButtonBase } from '@mui/material';
import { styled } from '@mui/material/styles';
import emojis from 'emojibase-data/en/compact.json';
import { useMemo, useState, type ReactNode } from 'react';
import { fold } from '../../../core/text/fold';
import { Field } from '../../pieces/form/Field';
import { Words } from '../../pieces/layout';
import { SmallWindow } from '../../pieces/SmallWindow';

const SHOWN = 120;
const Grid = styled('div')({
  display: 'grid',
  gridTemplateColumns: 'repeat(8, 34px)',
  height: 240,
  overflow: 'auto',
  alignContent: 'start',
});
const One = styled(ButtonBase)(({ theme }) => ({
  fontSize: 21,
  height: 34,
  '&:hover, &:focus-visible': { background: theme.bell.lakeWash },
}));

/** Pictures for a text, found by what they are called; they come with the program and need no network. */
export default function Emoji({
  anchor,
  put,
  close,
}: {
  anchor: HTMLElement;
  put: (emoji: string) => void;
  close: () => void;
}): ReactNode {
  const [typed, setTyped] = useState('');
  const wanted = fold(typed);
  const found = useMemo(
    () =>
      emojis
        .filter(
          ({ group, label, tags }) =>
            group !== 2 && group !== undefined && (wanted === '' || fold([label, ...(tags ?? [])].join(' ')).includes(wanted)),
        )
        .slice(0, SHOWN),
    [wanted],
  );
  return (
    <SmallWindow label="Emoji" at={anchor} close={close} width={304} pad={12}>
      <Field
        type="search"
        autoFocus
        label="Find an emoji by its name"
        placeholder="boat, snow, thumbs"
        value={typed}
        onChange={setTyped}
      />
      <Grid role="group" aria-label="Emoji">
        {found.map(({ hexcode, unicode, label }) => (
          <One
            key={hexcode}
            aria-label={label}
            title={label}
            onClick={() => {
              put(unicode);
              close();
            }}
          >
            {unicode}
          </One>
        ))}
      </Grid>
      <Words soft small>
        {found.length === 0 ? 'None is called that.' : 'One emoji turns the whole text into extended characters: 70 in one part.'}
      </Words>
    </SmallWindow>
  );
}
