import { Alert, Button } from '@mui/material';
import { useEffect, useRef, useState, type FocusEvent } from 'react';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { ask } from '../../api/client';
import { Bit, Column, Row, TextBox, Words } from '../../pieces/layout';
import { listed } from '../../pieces/format';
import type { DraftState } from './draft-state';

type Place = 'name' | 'to' | 'words' | 'when' | 'look';
const EVERY = 4000;
const AT: Record<string, string> = { name: 'at its name', to: 'in To', words: 'in Words', when: 'in When', look: 'on it' };

/** Tells the server where on the draft somebody is, and knows who else is on it and where. */
export function useOthers(
  id: number,
  from: Place = 'look',
): {
  others: readonly { name: string; place: string }[];
  onFocus: (event: FocusEvent) => void;
} {
  const [others, setOthers] = useState<readonly { name: string; place: string }[]>([]);
  const place = useRef<Place>(from);
  const say = useRef<() => void>(() => undefined);
  useEffect(() => {
    const tab = crypto.randomUUID();
    let open = true;
    const tell = (where: Place | 'nowhere') =>
      ask(broadcasts.here, { params: { id }, body: { tab, place: where } })
        .then((answer) => open && setOthers((known) => (same(known, answer.others) ? known : answer.others)))
        .catch(() => undefined); // the sheet itself says when the server is away
    const now = () => void (document.hidden ? undefined : tell(place.current));
    say.current = now;
    now();
    const timer = setInterval(now, EVERY);
    return () => {
      open = false;
      clearInterval(timer);
      void tell('nowhere');
    };
  }, [id]);
  const onFocus = (event: FocusEvent) => {
    const label = event.target.closest('section[aria-label]')?.getAttribute('aria-label')?.toLowerCase();
    const next: Place = label === 'to' || label === 'words' || label === 'when' ? label : label === 'proof' ? 'words' : 'name';
    if (next === place.current) return;
    place.current = next;
    say.current();
  };
  return { others, onFocus };
}

const same = (a: readonly { name: string; place: string }[], b: readonly { name: string; place: string }[]) =>
  a.length === b.length && a.every((each, i) => each.name === b[i].name && each.place === b[i].place);

/** Who else is on this draft, and where. */
export function Others({ others }: { others: readonly { name: string; place: string }[] }) {
  return others.length === 0 ? null : (
    <Bit small lake role="status">
      {listed(others.map(({ name, place }) => `${name} ${AT[place] ?? 'on it'}`))}
    </Bit>
  );
}

/** Both have changed the same: both stand here until one of them is taken. */
export function Clashes({ state }: { state: DraftState }) {
  const { clashes, settle } = state;
  if (clashes.length === 0) return null;
  return (
    <Words pad="10px 20px" under>
      <Alert
        severity="warning"
        action={
          <Row nowrap gap={8}>
            <Button variant="contained" onClick={() => settle('mine')}>
              Keep mine
            </Button>
            <Button onClick={() => settle('theirs')}>Take theirs</Button>
          </Row>
        }
      >
        Somebody else has changed {listed(clashes.map(({ what }) => what))} while you did. Yours are on this page and not saved
        yet; everything else of both is kept.
      </Alert>
      {clashes.map(
        (clash) =>
          clash.theirs !== '' && (
            <Column key={clash.what} above={8} gap={2}>
              <Bit soft small>
                {clash.what}, as they have them
              </Bit>
              <TextBox>{clash.theirs}</TextBox>
            </Column>
          ),
      )}
    </Words>
  );
}
