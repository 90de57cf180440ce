import { useMediaQuery, useTheme } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { replies, type Reply } from '../../core/api/replies';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { Shown } from '../pieces/choices';
import { ago, when } from '../pieces/format';
import { Bit, Column, Head, Pane, Panes } from '../pieces/layout';
import { Nothing, Trouble, useNow, useTitle, Waiting } from '../pieces/small';
import { Pressed, Way } from '../pieces/ways';
import { Conversation } from './Conversation';
import { writerOf } from './reply-words';

const Line = styled(Pressed, { shouldForwardProp: (name) => name !== 'on' })<{ on: boolean }>(({ theme, on }) => ({
  width: '100%',
  display: 'flex',
  alignItems: 'baseline',
  gap: 14,
  padding: '11px 18px',
  borderBottom: `1px solid ${theme.bell.hairline}`,
  background: on ? theme.bell.card : undefined,
  '&:hover': { background: theme.bell.card },
}));

/** Longest waiting first; the one that is open is answered, or put away, beside the list. */
export default function Replies() {
  useTitle('Replies');
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 5000);
  const small = useMediaQuery(useTheme().breakpoints.down('md'));
  const [view, setView] = useState<'waiting' | 'done'>('waiting');
  const [picked, setPicked] = useState<number>();
  // what is typed to each, and the last one typed to as it was: neither goes because somebody else was quicker
  const [typed, setTyped] = useState<Readonly<Record<number, string>>>({});
  const [held, setHeld] = useState<Reply>();
  const done = view === 'done';
  const answer = useGet(replies.list, { query: done ? { done: '1' } : {} }, { keep: true });
  const all = answer.data?.replies ?? [];
  // on a screen with room the first is open; on a small one the list comes first
  const here = all.find((reply) => reply.id === picked);
  const gone = here === undefined && held !== undefined && held.id === picked;
  const open = here ?? (gone ? held : small ? undefined : all[0]);
  const list = (
    <Pane fill role="region" aria-label="Replies" tabIndex={0}>
      <Trouble error={answer.error} />
      {!answer.data ? (
        answer.error ? null : (
          <Waiting what="Looking who has answered…" />
        )
      ) : all.length === 0 ? (
        <Column pad="0 18px">
          <Nothing title={done ? 'None yet' : 'Nobody waits for an answer'}>
            What people text back to a number that takes replies comes here, whoever of the team is at the desk. STOP, HELP and
            START are acted on by themselves; what only sounds like stop is asked.
          </Nothing>
        </Column>
      ) : (
        all.map((reply) => (
          <Line
            key={reply.id}
            on={open?.id === reply.id}
            aria-current={open?.id === reply.id ? 'true' : undefined}
            onClick={() => setPicked(reply.id)}
          >
            <Bit fig figure={done ? undefined : 'mid'} width={92} fixed>
              {done ? when(reply.received_at, workspace.zone, now) : ago(now - Date.parse(reply.received_at))}
            </Bit>
            <Bit grow>
              <Bit strong>{writerOf(reply)}</Bit>{' '}
              {reply.opted_out && (
                <Bit brick small>
                  opted out
                </Bit>
              )}
              {reply.kind === 'maybe_stop' && (
                <Bit plum small>
                  may mean stop
                </Bit>
              )}
              <br />
              <Bit soft>{reply.body || 'erased'}</Bit>
            </Bit>
          </Line>
        ))
      )}
    </Pane>
  );
  return (
    <>
      <Head>
        <h1>Replies</h1>
        <Shown
          label="Which replies"
          value={view}
          options={[
            ['waiting', 'waiting'],
            ['done', 'answered or put away'],
          ]}
          onChange={(next) => {
            setView(next);
            setPicked(undefined);
          }}
        />
        {small && open && <Way onClick={() => setPicked(undefined)}>all replies</Way>}
      </Head>
      <Panes columns="minmax(300px, 1fr) minmax(0, 1.5fr)">
        {(!small || !open) && list}
        {open ? (
          <Conversation
            key={open.id}
            reply={open}
            done={done}
            gone={gone}
            words={typed[open.id] ?? ''}
            setWords={(words) => {
              setTyped({ ...typed, [open.id]: words });
              setPicked(open.id);
              setHeld(words === '' ? undefined : open);
            }}
            answered={() => {
              setTyped({ ...typed, [open.id]: '' });
              setPicked(undefined);
            }}
          />
        ) : (
          !small && <Pane card aria-hidden />
        )}
      </Panes>
    </>
  );
}
