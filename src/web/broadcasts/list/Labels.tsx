import { Autocomplete, Button, TextField } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { useAct, useGet } from '../../api/client';
import { InFlow, Steady } from '../../pieces/InFlow';
import { Row, Words } from '../../pieces/layout';
import { SmallWindow } from '../../pieces/SmallWindow';
import { Trouble } from '../../pieces/small';
import { Value } from '../../pieces/ways';
import { useWork } from '../../api/work';

/** The labels of a broadcast, and a way to change them: those in use are offered, a new one is typed. Kept at once. */
export function Labels({ id, labels, may }: { id: number; labels: readonly string[]; may: boolean }): ReactNode {
  const [anchor, setAnchor] = useState<HTMLElement>();
  const said = labels.join(', ');
  if (!may) return labels.length > 0 ? <span>{said}</span> : null;
  return (
    <>
      <Value
        small
        soft={said === ''}
        aria-haspopup="dialog"
        aria-label={said === '' ? 'Label it' : `Labels: ${said}`}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {said === '' ? 'label' : said}
      </Value>
      {anchor && <LabelPicker id={id} labels={labels} anchor={anchor} close={() => setAnchor(undefined)} />}
    </>
  );
}

function LabelPicker({
  id,
  labels,
  anchor,
  close,
}: {
  id: number;
  labels: readonly string[];
  anchor: HTMLElement;
  close: () => void;
}) {
  const used = useGet(broadcasts.labels, {}, { keep: true }).data?.labels ?? [];
  const [chosen, setChosen] = useState([...labels]);
  const [typed, setTyped] = useState('');
  const label = useAct(broadcasts.label);
  const { work, busy, error } = useWork();
  const keep = (next: string[]) => {
    setChosen(next);
    void work(async () => setChosen((await label({ params: { id }, body: { labels: next } })).labels));
  };
  // what was typed and not yet confirmed is meant, too
  const done = () => {
    const last = typed.trim();
    if (last !== '' && !chosen.includes(last)) keep([...chosen, last]);
    close();
  };
  return (
    <SmallWindow label="Labels" at={anchor} close={done} width={300}>
      <Steady low>
        <Autocomplete
          open
          freeSolo
          multiple
          disablePortal
          disableClearable
          filterSelectedOptions
          options={used.map((each) => each.label)}
          value={chosen}
          inputValue={typed}
          onInputChange={(_event, words) => setTyped(words.slice(0, 40))}
          onChange={(_event, next) => keep(next.map((each) => each.trim()).filter((each) => each !== ''))}
          // the list would keep it for itself; what is typed and not confirmed is given up
          onKeyDown={(event) => event.key === 'Escape' && close()}
          renderInput={(params) => <TextField {...params} autoFocus label="Labels" placeholder="a label" />}
          slots={{ popper: InFlow }}
        />
      </Steady>
      <Trouble error={error} />
      <Row between>
        <Words soft small>
          To find it by later; nobody else sees them.
        </Words>
        <Button variant="contained" disabled={busy} onClick={done}>
          Done
        </Button>
      </Row>
    </SmallWindow>
  );
}
