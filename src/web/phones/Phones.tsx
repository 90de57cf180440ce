import { Box, Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { lazy, Suspense, useState } from 'react';
import { useSearchParams } from 'react-router';
import { phones, type Phone } from '../../core/api/desk/phones';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { Shown } from '../pieces/form/choices';
import { Search } from '../pieces/form/Search';
import { clockTime, count, dayOf } from '../pieces/format';
import { Bit, End, Head, Pane, Row } from '../pieces/layout';
import { Nothing, Trouble, useNow, useSettled, useTitle, Waiting } from '../pieces/small';
import { AnotherPhone } from './AnotherPhone';
import { Handset } from './Handset';
import { useHeldOrder } from './held-order';

const Screens = styled(Box)({
  display: 'grid',
  gridTemplateColumns: 'repeat(auto-fill, minmax(min(300px, 100%), 1fr))',
  gap: 16,
  alignItems: 'start',
});
const NO_PHONES: readonly Phone[] = [];
const MailScreens = lazy(() => import('./Mailbox'));

/** The practice carrier's handsets with what is on their screens; answer as one, and move the demo's clock. */
export default function Phones() {
  useTitle('Phones');
  const { session, workspace, offset } = useDesk();
  const now = useNow(offset);
  const [typed, setTyped] = useState('');
  const search = useSettled(typed, 250);
  const [params, setParams] = useSearchParams();
  const mailbox = params.get('show') === 'mailbox';
  const answer = useGet(phones.list, { query: { search } }, { every: 1500, keep: true });
  // while somebody answers as one, no card goes elsewhere
  const cards = useHeldOrder(answer.data?.phones ?? NO_PHONES, ({ number }) => number);
  const move = useAct(phones.moveClock);
  const { work, error } = useWork();
  const on = (minutes: number, words: string) => (
    <Button onClick={() => void work(() => move({ body: { minutes } }))}>{words}</Button>
  );
  return (
    <>
      <Head>
        <h1>Phones</h1>
        <Shown
          label="What is shown"
          value={mailbox ? 'mailbox' : 'phones'}
          options={[
            ['phones', 'phones'],
            ['mailbox', 'mailbox'],
          ]}
          onChange={(next) => setParams(next === 'mailbox' ? { show: next } : {}, { replace: true })}
        />
        <Bit soft>simulated; nothing leaves this machine</Bit>
        {session.demo && (
          <End>
            <span>
              {dayOf(now, workspace.zone)}, <b>{clockTime(now, workspace.zone, true)}</b>
            </span>
            {on(10, '10 min on')}
            {on(60, '1 hour on')}
            {on(720, '12 hours on')}
          </End>
        )}
      </Head>
      {mailbox ? (
        <Suspense fallback={<Waiting what="Opening the mailbox…" />}>
          <MailScreens />
        </Suspense>
      ) : (
        <Pane grow tabIndex={0} role="region" aria-label="Handsets">
          <Row below={12}>
            <Search
              width={240}
              label="Find a phone by number or text"
              placeholder="Number or words"
              value={typed}
              onChange={setTyped}
            />
            <AnotherPhone />
            {answer.data && (
              <Bit soft small role="status">
                {answer.data.total === 1 ? '1 phone has' : `${count(answer.data.total)} phones have`} something on the screen
                {answer.data.total > answer.data.phones.length ? `, the latest ${answer.data.phones.length} shown` : ''}
              </Bit>
            )}
          </Row>
          <Trouble error={error ?? answer.error ?? answer.failureReason} />
          {!answer.data
            ? !(answer.error ?? answer.failureReason) && <Waiting what="Looking at the phones…" />
            : answer.data.total === 0 && (
                <Nothing title={search ? 'No such phone' : 'Nothing has arrived yet'}>
                  {search
                    ? 'No phone has that on its screen.'
                    : 'Every text that is sent while the practice carrier is connected shows up here, as its recipient would see it.'}
                </Nothing>
              )}
          <Screens {...cards.around}>
            {cards.shown.map((phone) => (
              <Handset key={phone.number} phone={phone} />
            ))}
          </Screens>
        </Pane>
      )}
    </>
  );
}
