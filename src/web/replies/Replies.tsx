import { useMediaQuery, useTheme } from '@mui/material';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { replies, type View } from '../../core/api/desk/replies';
import { usePages } from '../api/client';
import { useDesk } from '../api/session';
import { Shown } from '../pieces/form/choices';
import { Field } from '../pieces/form/Field';
import { count } from '../pieces/format';
import { Bit, Head, Pane, Panes, Row } from '../pieces/layout';
import { Trouble, useNow, useSettled, useTitle, Waiting } from '../pieces/small';
import { Way } from '../pieces/ways';
import { AreaWays } from './AreaWays';
import { ConversationList } from './ConversationList';
import { ThreadPane } from './ThreadPane';

/** Longest waiting first; the one that is open is answered, or put away, beside the list. */
export default function Replies() {
  useTitle('Replies');
  const { offset } = useDesk();
  const now = useNow(offset, 5000);
  const small = useMediaQuery(useTheme().breakpoints.down('md'));
  const [params, setParams] = useSearchParams();
  const [view, setView] = useState<View>('waiting');
  const [search, setSearch] = useState('');
  const found = useSettled(search.trim(), 250);
  // what is typed to each: it does not go because somebody else was quicker, or another one was looked at
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({});
  const picked = params.get('number') ?? undefined;
  const run = Number(params.get('run')) || undefined;
  const pick = (number: string | undefined) => {
    const next = { ...(run === undefined ? {} : { run: String(run) }), ...(number === undefined ? {} : { number }) };
    setParams(next, { replace: true });
  };
  const list = usePages(
    replies.list,
    (after: string | undefined) => ({
      query: run === undefined ? { view, search: found === '' ? undefined : found, after } : { run, after },
    }),
    (last) => last.next ?? undefined,
  );
  // what moves while it is paged is not there twice
  const all = [
    ...new Map((list.data?.pages ?? []).flatMap((page) => page.conversations.map((each) => [each.number, each]))).values(),
  ];
  const counts = list.data?.pages[0]?.counts;
  // on a screen with room the first is open; on a small one the list comes first
  const open = picked ?? (small ? undefined : all[0]?.number);
  const words = (name: string, n: number | undefined) => (n ? `${name} ${count(n)}` : name);
  return (
    <>
      <Head>
        <h1>Replies</h1>
        {run !== undefined && (
          <Row gap={10}>
            <span>answers to “{list.data?.pages[0]?.run ?? '…'}”</span>
            <Way onClick={() => setParams({}, { replace: true })}>all replies</Way>
          </Row>
        )}
        {run === undefined && (!small || !open) && (
          <Shown
            label="Which conversations"
            value={view}
            options={[
              ['waiting', words('waiting', counts?.waiting)],
              ['others', words('claimed by others', counts?.others)],
              ['later', words('put away', counts?.later)],
              ['all', 'all'],
            ]}
            onChange={(next) => {
              setView(next);
              pick(undefined);
            }}
          />
        )}
        {small && open && <Way onClick={() => pick(undefined)}>all replies</Way>}
        {(!small || !open) && (
          <>
            {run === undefined && (
              <Bit width={240}>
                <Field label="Find conversations" placeholder="Words, name or number" value={search} onChange={setSearch} />
              </Bit>
            )}
            <AreaWays here="replies" />
          </>
        )}
      </Head>
      <Panes columns={open ? 'minmax(280px, 1fr) minmax(0, 1.65fr) minmax(220px, 0.8fr)' : 'minmax(300px, 1fr) minmax(0, 2fr)'}>
        {(!small || !open) && (
          <Pane fill role="region" aria-label="Conversations" tabIndex={0}>
            <Trouble error={list.error} />
            {list.data ? (
              <ConversationList
                conversations={all}
                view={view}
                searched={found !== '' || run !== undefined}
                open={open}
                now={now}
                pick={pick}
                more={list.hasNextPage && !list.isFetchingNextPage ? () => void list.fetchNextPage() : undefined}
              />
            ) : (
              !list.error && <Waiting what="Looking who has answered…" />
            )}
          </Pane>
        )}
        {open ? (
          <ThreadPane
            key={open}
            number={open}
            now={now}
            words={typed[open] ?? ''}
            setWords={(next) => {
              setTyped({ ...typed, [open]: next });
              // what is typed to stays open, whoever comes into its place
              if (picked !== open) pick(open);
            }}
            settled={() => {
              setTyped({ ...typed, [open]: '' });
              pick(undefined);
            }}
          />
        ) : (
          !small && <Pane card aria-hidden />
        )}
      </Panes>
    </>
  );
}
