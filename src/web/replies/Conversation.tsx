import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { people } from '../../core/api/people';
import { replies, type Reply } from '../../core/api/replies';
import { mayDo } from '../../core/api/roles';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { Field } from '../pieces/Field';
import { ago, languageName, when, zoneName } from '../pieces/format';
import { Bit, Bubble, Column, Pane, Row, Words } from '../pieces/layout';
import { showPhone } from '../pieces/phone';
import { useSay } from '../pieces/Said';
import { Trouble, useNow } from '../pieces/small';
import { Way } from '../pieces/ways';
import { KIND, writerOf } from './reply-words';
import { WrongNumber } from './WrongNumber';

const Thread = styled(Column)({ flex: 1, minHeight: 0, overflow: 'auto', justifyContent: 'flex-end' });

/** Who writes, what was said before, and within reach what can be done about it. */
export function Conversation({
  reply,
  done,
  gone,
  words,
  setWords,
  answered,
}: {
  reply: Reply;
  done: boolean;
  /** It waits no longer: somebody else has answered it or put it away while words were typed here. */
  gone: boolean;
  words: string;
  setWords: (words: string) => void;
  answered: () => void;
}) {
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 5000);
  const say = useSay();
  const { work, busy, error } = useWork();
  const known = useGet(people.get, reply.person_id ? { params: { id: reply.person_id } } : undefined, { keep: true }).data;
  const text = useAct(people.text);
  const close = useAct(replies.done);
  const optOut = useAct(replies.optOut);
  const name = writerOf(reply);
  const { person_id } = reply;
  const zone = workspace.zone;
  const away = (wrong_number: boolean) =>
    void work(async () => {
      await optOut({ params: { id: reply.id }, body: { wrong_number } });
      say(
        wrong_number ? `${showPhone(reply.number)} is a wrong number and is not texted again.` : `${name} is not texted again.`,
      );
      answered();
    });
  // what was said before, oldest first; the reply itself stands below as what is to be answered
  const before = (known?.texts ?? [])
    .filter((each) => !(each.direction === 'from' && each.id === reply.id))
    .filter((each) => Date.parse(each.at) <= now)
    .sort((a, b) => a.at.localeCompare(b.at))
    .slice(-6);
  return (
    <Pane as="article" card fill aria-label={`Conversation with ${name}`}>
      <Row under base pad="12px 20px">
        <Words grow>
          <Words as="h2">{person_id ? <Way to={`/people/${person_id}`}>{name}</Way> : name}</Words>
          <Bit soft small>
            {person_id !== null && `${showPhone(reply.number)} · `}
            {known && [
              known.person.language && `${languageName(known.person.language)} · `,
              known.person.zone && `${zoneName(known.person.zone)}${known.person.zone_guessed ? ', a guess' : ''} · `,
              known.lists.length > 0 && `on ${known.lists.map((list) => list.name).join(', ')} · `,
            ]}
            {reply.run_id ? (
              <>
                to <Way to={`/runs/${reply.run_id}`}>{reply.run}</Way>
              </>
            ) : (
              'to no broadcast'
            )}
          </Bit>
        </Words>
        <Bit num>
          <Bit fig figure="mid">
            {done ? when(reply.received_at, zone, now) : ago(now - Date.parse(reply.received_at))}
          </Bit>
        </Bit>
      </Row>
      <Thread pad="12px 20px" gap={8} role="log" aria-label="What was said" tabIndex={0}>
        {before.map((each) => (
          <Bubble to={each.direction === 'to'} key={`${each.direction}${each.id}`}>
            {each.body || <i>erased</i>}
            <Words soft small>
              {when(each.at, zone, now)}
              {each.run ? `, ${each.run}` : ''}
              {each.state && each.state !== 'delivered' ? `, ${each.state.replaceAll('_', ' ')}` : ''}
            </Words>
          </Bubble>
        ))}
        <Bubble to={false}>
          <Words figure="line" as="p">
            {reply.body || <i>erased</i>}
          </Words>
          <Words soft small>
            {when(reply.received_at, zone, now)}
          </Words>
        </Bubble>
        {KIND[reply.kind] && (
          <Words plum small>
            {KIND[reply.kind]}
          </Words>
        )}
        {reply.incomplete && (
          <Words plum small>
            A part of this text never came.
          </Words>
        )}
        {reply.trouble && (
          <Words brick small role="status">
            {reply.trouble}
          </Words>
        )}
        {reply.opted_out && (
          <Words brick small>
            They opted out and cannot be texted.
          </Words>
        )}
      </Thread>
      <Column line pad="12px 20px" gap={10}>
        <Trouble error={error} />
        {gone && (
          <Words plum small role="status">
            Somebody has answered this or put it away meanwhile. Your words are still here; look at what was said before you send
            them.
          </Words>
        )}
        {!done && mayDo(account.role, 'write') && (
          <>
            {person_id !== null && !reply.opted_out && mayDo(account.role, 'send') && (
              <Row
                as="form"
                nowrap
                onSubmit={(event: React.FormEvent) => {
                  event.preventDefault();
                  void work(async () => {
                    await text({ params: { id: person_id }, body: { words } });
                    say(`Sent to ${name}.`);
                    answered();
                  });
                }}
              >
                <Field label={`Answer ${name}`} placeholder={`Answer ${name}…`} value={words} onChange={setWords} />
                <Button type="submit" variant="contained" size="medium" disabled={busy || words.trim() === ''}>
                  Send
                </Button>
              </Row>
            )}
            <Row between>
              <Button
                disabled={busy}
                onClick={() =>
                  void work(async () => {
                    await close({ params: { id: reply.id } });
                    answered();
                  })
                }
              >
                No answer needed
              </Button>
              <Row gap={4}>
                <Button variant="quiet" disabled={busy} onClick={() => away(false)}>
                  Opted out
                </Button>
                <WrongNumber
                  number={showPhone(reply.number)}
                  whose={`${reply.given_name ?? ''} ${reply.family_name ?? ''}`.trim()}
                  confirm={() => away(true)}
                />
              </Row>
            </Row>
          </>
        )}
      </Column>
    </Pane>
  );
}
