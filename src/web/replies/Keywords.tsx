import { showPhone } from '../pieces/phone';
import { Button } from '@mui/material';
import { useState } from 'react';
import { keywords as api, type Keyword } from '../../core/api/desk/keywords';
import { mayDo } from '../../core/api/roles';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { useAskedFor } from '../pieces/address';
import { DataTable, type Column as TableColumn } from '../pieces/table/DataTable';
import { count, when } from '../pieces/format';
import { Bit, Head, Pane, Panes, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Nothing, Trouble, useNow, useTitle, Waiting } from '../pieces/small';
import { Sure } from '../pieces/Sure';
import { Way } from '../pieces/ways';
import { KeywordForm } from './KeywordForm';
import { AreaWays } from './AreaWays';

/** Words by which people sign up: what each does, how many did, and its poster. */
export default function Keywords() {
  useTitle('Keywords');
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const answer = useGet(api.list, {}, { keep: true });
  const [open, setOpen] = useState<number | 'new'>();
  useAskedFor('open', (what) => setOpen(what === 'new' ? 'new' : Number(what)));
  const may = mayDo(account.role, 'write');
  const all = answer.data?.keywords ?? [];
  const chosen = typeof open === 'number' ? all.find(({ id }) => id === open) : undefined;
  const shows = answer.data !== undefined && (open === 'new' || chosen !== undefined);
  const columns: TableColumn<Keyword>[] = [
    {
      key: 'word',
      heading: 'Keyword',
      cell: (each) => (
        <>
          <Way onClick={() => setOpen(each.id)} aria-current={each.id === open ? 'true' : undefined}>
            {each.word}
          </Way>{' '}
          <Bit soft>to {showPhone(each.address)}</Bit>
        </>
      ),
    },
    {
      key: 'does',
      heading: 'What it does',
      cell: (each) => (
        <>
          {each.list ?? each.tag ?? 'writes down their consent'}
          {each.asks_first && <Bit soft>, asks first</Bit>}
          {each.alike.length > 0 && !each.ended_at && (
            <Words plum small>
              easily taken for {each.alike.join(', ')}
            </Words>
          )}
        </>
      ),
    },
    { key: 'n', heading: 'Signed up', num: true, cell: (each) => <Bit fig>{count(each.signed_up)}</Bit> },
    { key: 'state', heading: 'Holds', cell: (each) => <Bit soft>{holds(each, now, workspace.zone)}</Bit> },
  ];
  return (
    <>
      <Head>
        <h1>Keywords</h1>
        <AreaWays here="keywords" />
      </Head>
      {!answer.data && !answer.error && <Waiting what="Looking for keywords…" />}
      {(answer.data ?? answer.error) && (
        <Panes opened={shows} columns="minmax(0, 1.3fr) minmax(340px, 1fr)">
          <Pane tabIndex={0} role="region" aria-label="All keywords">
            <Trouble error={answer.error} />
            {answer.data && (
              <DataTable
                label="Keywords"
                columns={columns}
                rows={all}
                idOf={(each) => each.id}
                empty={
                  <Nothing title="No keyword yet">
                    A keyword stands on a poster: whoever texts it is put on a list, with what they agreed to written down, and
                    gets an answer.
                  </Nothing>
                }
              />
            )}
            {may && (
              <Row above={12}>
                <Button variant={open === 'new' ? 'outlined' : 'contained'} onClick={() => setOpen('new')}>
                  New keyword
                </Button>
              </Row>
            )}
          </Pane>
          <Pane card role="region" aria-label={chosen ? `Keyword ${chosen.word}` : 'A keyword'} tabIndex={0}>
            {shows && (
              <Words smallOnly below={8}>
                <Way onClick={() => setOpen(undefined)}>All keywords</Way>
              </Words>
            )}
            {chosen && <Acts keyword={chosen} may={may} />}
            {open !== undefined && shows && (
              <KeywordForm
                key={open}
                keyword={chosen}
                others={all.filter((each) => each.id !== open && each.ended_at === null)}
                workspaceName={answer.data.workspace}
                disabled={!may || (chosen !== undefined && chosen.ended_at !== null)}
                done={(id) => setOpen(id)}
              />
            )}
            {open === undefined && <Words soft>Open one to see what it says, or begin a new one.</Words>}
          </Pane>
        </Panes>
      )}
    </>
  );
}

/** From when to when a keyword holds, in words. */
function holds(each: Keyword, now: number, zone: string): string {
  if (each.ended_at) return `ended ${when(each.ended_at, zone, now)}`;
  if (Date.parse(each.from_at) > now) return `from ${when(each.from_at, zone, now)}`;
  if (each.until_at === null) return 'now';
  return Date.parse(each.until_at) <= now
    ? `was over ${when(each.until_at, zone, now)}`
    : `until ${when(each.until_at, zone, now)}`;
}

function Acts({ keyword, may }: { keyword: Keyword; may: boolean }) {
  const say = useSay();
  const end = useAct(api.end);
  const { work, busy, error } = useWork();
  const [asking, setAsking] = useState(false);
  return (
    <Words below={14}>
      <Row between base>
        <h2>{keyword.word}</h2>
        <Way to={`/replies/keywords/${keyword.id}/poster`}>its poster</Way>
      </Row>
      <Words soft small>
        {count(keyword.signed_up)} signed up
        {keyword.asks_first && `, ${count(keyword.asked)} asked and not answered yet`}
        {keyword.list_id !== null && (
          <>
            {' · '}
            <Way to={`/people?list=${keyword.list_id}`}>see the list</Way>
          </>
        )}
      </Words>
      <Trouble error={error} />
      {may && keyword.ended_at === null && (
        <Row above={8}>
          <Button disabled={busy} onClick={() => setAsking(true)}>
            End this keyword
          </Button>
        </Row>
      )}
      {asking && (
        <Sure
          title={`End “${keyword.word}”?`}
          act="End it"
          leave={() => setAsking(false)}
          confirm={() =>
            void work(async () => {
              await end({ params: { id: keyword.id } });
              say(`“${keyword.word}” is an answer like any other now.`);
            })
          }
        >
          Whoever texts it then is not signed up; what they write waits in Replies. Who has signed up stays on the list. Take the
          posters down.
        </Sure>
      )}
    </Words>
  );
}
