import { Button, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { replies, type Thread } from '../../core/api/desk/replies';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { useSay } from '../pieces/Said';
import { Trouble } from '../pieces/small';

/** Whose conversation it is: claimed by oneself, taken over, given back, or passed on to a colleague. */
export function PassOn({ thread }: { thread: Thread }) {
  const { account } = useDesk();
  const say = useSay();
  const desk = useGet(replies.desk, {}, { keep: true }).data?.accounts ?? [];
  const claim = useAct(replies.claim);
  const { work, busy, error } = useWork();
  const [anchor, setAnchor] = useState<HTMLElement>();
  const has = thread.claimed_by;
  const mine = has?.id === account.id;
  const give = (id: number | null, words: string) =>
    void work(async () => {
      setAnchor(undefined);
      await claim({ body: { number: thread.number, account_id: id, from: has?.id ?? null } });
      say(words);
    });
  const others = desk.filter(({ id }) => id !== account.id && id !== has?.id);
  return (
    <>
      {!mine && (
        <Button disabled={busy} onClick={() => give(account.id, 'It is yours.')}>
          {has ? `Take it over from ${has.name}` : 'Claim it'}
        </Button>
      )}
      <Button disabled={busy} aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        Pass on…
      </Button>
      <Menu open={anchor !== undefined} anchorEl={anchor} onClose={() => setAnchor(undefined)}>
        {others.map(({ id, name }) => (
          <MenuItem key={id} onClick={() => give(id, `${name} has it now.`)}>
            to {name}
          </MenuItem>
        ))}
        {has && <MenuItem onClick={() => give(null, 'Nobody has claimed it now.')}>to nobody: it waits for everyone</MenuItem>}
        {others.length === 0 && !has && <MenuItem disabled>Nobody else is at the desk; ask them in under Setup, Team.</MenuItem>}
      </Menu>
      <Trouble error={error} />
    </>
  );
}
