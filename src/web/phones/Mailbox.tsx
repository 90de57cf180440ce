import { Button } from '@mui/material';
import { useState } from 'react';
import { phones, type BoxMail } from '../../core/api/desk/phones';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { Field } from '../pieces/form/Field';
import { Search } from '../pieces/form/Search';
import { when } from '../pieces/format';
import { Bit, Pane, Row, TextBox, Words } from '../pieces/layout';
import { Nothing, Trouble, useNow, useSettled, Waiting } from '../pieces/small';

/** The practice mailbox: every mail that would have gone out, and an answer as whoever got it. */
export default function Mailbox() {
  const [typed, setTyped] = useState('');
  const search = useSettled(typed, 250);
  const answer = useGet(phones.mails, { query: { search } }, { every: 1500, keep: true });
  return (
    <Pane grow tabIndex={0} role="region" aria-label="Mailbox">
      <Row below={12}>
        <Search
          width={240}
          label="Find a mail by address or words"
          placeholder="Address or words"
          value={typed}
          onChange={setTyped}
        />
        <Bit soft small>
          an address that begins with “away” answers by itself, one that begins with “gone” comes back
        </Bit>
      </Row>
      <Trouble error={answer.error ?? answer.failureReason} />
      {!answer.data && !(answer.error ?? answer.failureReason) && <Waiting what="Looking at the mailbox…" />}
      {answer.data?.mails.length === 0 && (
        <Nothing title={search ? 'No such mail' : 'No mail yet'}>
          {search ? 'No mail has that in it.' : 'What is passed on by mail shows up here, as its recipient would see it.'}
        </Nothing>
      )}
      <Words most={860}>
        {answer.data?.mails.map((mail) => (
          <One key={mail.id} mail={mail} />
        ))}
      </Words>
    </Pane>
  );
}

function One({ mail }: { mail: BoxMail }) {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const [words, setWords] = useState('');
  const [said, setSaid] = useState('');
  const send = useAct(phones.answerMail);
  const { work, busy, error } = useWork();
  const incoming = mail.direction === 'in';
  return (
    <Words as="article" under pad="12px 0" aria-label={mail.subject}>
      <Row between base nowrap>
        <Bit strong cut>
          {mail.subject}
        </Bit>
        <Bit soft small nobreak>
          {when(mail.at, workspace.zone, now)}
        </Bit>
      </Row>
      <Words soft small below={6}>
        {incoming ? `to ${mail.owner}, from ${mail.from}` : `answered by ${mail.owner}`}
      </Words>
      <TextBox>{mail.text}</TextBox>
      {mail.said && (
        <Words small plum={!mail.said.startsWith('250')} soft={mail.said.startsWith('250')} above={4}>
          the server said: {mail.said}
        </Words>
      )}
      {incoming && (
        <Row
          as="form"
          above={8}
          nowrap
          onSubmit={(event: React.FormEvent) => {
            event.preventDefault();
            void work(async () => {
              setSaid((await send({ params: { id: mail.id }, body: { text: words } })).said);
              setWords('');
            });
          }}
        >
          <Field label={`Answer as ${mail.owner}`} placeholder="Answer this mail" value={words} onChange={setWords} multiline />
          <Button type="submit" disabled={busy || words.trim() === ''}>
            Send
          </Button>
        </Row>
      )}
      {said && (
        <Words small role="status" plum={!said.startsWith('250')}>
          {said.startsWith('250') ? 'It was taken.' : `It was refused: ${said}`}
        </Words>
      )}
      <Trouble error={error} />
    </Words>
  );
}
