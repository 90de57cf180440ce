import { Button, Divider, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { passing, type PassTo } from '../../core/api/desk/passing';
import { replies, type Thread } from '../../core/api/desk/replies';
import { useAct, useGet } from '../api/client';
import { mayDo } from '../../core/api/roles';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { showPhone } from '../pieces/phone';
import { useSay } from '../pieces/Said';
import { Trouble } from '../pieces/small';
import { GiveAway, givenTo } from './GiveAway';

/** Whose conversation it is: claimed by oneself, taken over, given back, or passed on to a colleague: at the desk, or by text or mail. */
export function PassOn({ thread }: { thread: Thread }) {
  const { account } = useDesk();
  const say = useSay();
  const desk = useGet(replies.desk, {}, { keep: true }).data?.accounts ?? [];
  const maySend = mayDo(account.role, 'send');
  const outside = useGet(passing.list, maySend ? {} : undefined, { keep: true }).data;
  const claim = useAct(replies.claim);
  const pass = useAct(passing.give);
  const { work, busy, error } = useWork();
  const [anchor, setAnchor] = useState<HTMLElement>();
  const [typing, setTyping] = useState<HTMLElement>();
  const has = thread.claimed_by;
  const mine = has?.id === account.id;
  const give = (id: number | null, words: string) =>
    void work(async () => {
      setAnchor(undefined);
      await claim({ body: { number: thread.number, account_id: id, from: has?.id ?? null } });
      say(words);
    });
  const giveTo = (to: PassTo) =>
    void work(async () => {
      setAnchor(undefined);
      await pass({ body: { ...to, number: thread.number } });
      say(givenTo(to.name));
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
        {outside && <Divider />}
        {outside?.known
          .filter(({ address }) => address !== thread.number)
          .map((each) => (
            <MenuItem key={each.address} onClick={() => giveTo(each)}>
              to {each.name}, {each.way === 'mail' ? `by mail: ${each.address}` : `by text: ${showPhone(each.address)}`}
            </MenuItem>
          ))}
        {outside && (
          <MenuItem
            onClick={() => {
              setTyping(anchor);
              setAnchor(undefined);
            }}
          >
            to somebody by text or mail…
          </MenuItem>
        )}
        {others.length === 0 && !has && <MenuItem disabled>Nobody else is at the desk; ask them in under Setup, Team.</MenuItem>}
      </Menu>
      {typing && outside && <GiveAway thread={thread} at={typing} mail={outside.mail} close={() => setTyping(undefined)} />}
      <Trouble error={error} />
    </>
  );
}
