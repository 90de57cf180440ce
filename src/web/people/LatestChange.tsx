import { useState } from 'react';
import { people as peopleApi } from '../../core/api/people/people';
import { useGet } from '../api/client';
import { count } from '../pieces/format';
import { Bit } from '../pieces/layout';
import { SmallWindow } from '../pieces/SmallWindow';
import { Trouble } from '../pieces/small';
import { Way } from '../pieces/ways';
import { ChangesOfMany, UndoMany, useUndoMany } from './ChangesOfMany';

/** The last that was done with many at once, with what undoes it; those before it in a window. Nothing where nothing was done lately. */
export function LatestChange() {
  const changes = useGet(peopleApi.changes, {}, { keep: true }).data?.changes ?? [];
  const undoing = useUndoMany();
  const [open, setOpen] = useState<HTMLElement>();
  const last = changes.find((each) => !each.undone);
  if (changes.length === 0) return undefined;
  return (
    <>
      {last && (
        <Bit soft>
          last: {count(last.people)} {last.what} <UndoMany change={last} undoing={undoing} />
        </Bit>
      )}
      <Way nobreak aria-haspopup="dialog" onClick={(event) => setOpen(event.currentTarget)}>
        all changes
      </Way>
      {open && (
        <SmallWindow label="What was done with many at once" at={open} close={() => setOpen(undefined)} width={380}>
          <ChangesOfMany changes={changes} />
        </SmallWindow>
      )}
      <Trouble error={undoing.error} />
    </>
  );
}
