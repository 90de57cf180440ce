import { Button, useMediaQuery, useTheme } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { people as peopleApi } from '../../core/api/people/people';
import { replies, type Thread, type ThreadText } from '../../core/api/desk/replies';
import { mayDo } from '../../core/api/roles';
import { ask, useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { ago } from '../pieces/format';
import { Bit, Column, Pane, Row, Words } from '../pieces/layout';
import { showPhone } from '../pieces/phone';
import { useSay } from '../pieces/Said';
import { Trouble, Waiting } from '../pieces/small';
import { AnswerBox } from './AnswerBox';
import { Held } from './Held';
import { WhoseNumber } from './WhoseNumber';
import { Later } from './Later';
import { PassOn } from './PassOn';
import { PersonCard } from './PersonCard';
import { ThreadTexts } from './ThreadTexts';
import { WrongNumber } from './WrongNumber';
import { writerOf } from './reply-words';

/** On a phone: always within a thumb's reach. */
const Foot = styled(Words)(({ theme }) => ({
  position: 'sticky',
  bottom: 0,
  background: theme.bell.ground,
  padding: '0 20px 10px',
}));

/** One conversation: what was said, the answer under it, and who they are beside it. */
export function ThreadPane({
  number,
  now,
  words,
  setWords,
  settled,
}: {
  number: string;
  now: number;
  words: string;
  setWords: (words: string) => void;
  /** It is answered or put away: the next one is wanted. */
  settled: () => void;
}) {
  const { account, workspace } = useDesk();
  const small = useMediaQuery(useTheme().breakpoints.down('md'));
  const answer = useGet(replies.thread, { query: { number } }, { keep: false });
  const thread = answer.data;
  const id = thread?.person_id ?? null;
  const asked = useGet(peopleApi.get, id === null ? undefined : { params: { id } }, { keep: true });
  const known = asked.data;
  const labels = useGet(peopleApi.sources, {}, { keep: true }).data?.fields;
  const [before, setBefore] = useState<{ texts: ThreadText[]; more: boolean }>();
  const { work, busy, error } = useWork();
  if (!thread)
    return (
      <>
        <Pane as="article" fill aria-label="Conversation">
          {answer.error ? <Trouble error={answer.error} /> : <Waiting what="Opening the conversation…" />}
        </Pane>
        <Pane card wideOnly aria-hidden />
      </>
    );
  const mayWrite = mayDo(account.role, 'write');
  const name = writerOf(thread);
  const texts = [...(before?.texts ?? []), ...thread.texts];
  const more = before ? before.more : thread.more;
  const waits = texts.some((text) => text.waits);
  const person = known && id !== null ? known.person : undefined;
  return (
    <>
      <Pane as="article" fill aria-label={`Conversation with ${name}`}>
        <Row under base smallOnly pad="10px 14px">
          <h2>{name}</h2>
        </Row>
        <ThreadTexts
          texts={texts}
          more={
            more && texts.length > 0
              ? () =>
                  void work(async () => {
                    const page = await ask(replies.thread, { query: { number, before: texts[0].at } });
                    setBefore({ texts: [...page.texts, ...(before?.texts ?? [])], more: page.more });
                  })
              : undefined
          }
        />
        <WhoseNumber thread={thread} zone={workspace.zone} />
        <Trouble error={error} />
        {mayWrite && thread.held.length > 0 && (
          <Held
            held={thread.held}
            take={
              thread.opted_out
                ? undefined
                : (answered) => setWords(words.trim() === '' ? answered : `${words.trimEnd()}\n${answered}`)
            }
          />
        )}
        {words.trim() !== '' && !waits && (
          <Words plum small pad="0 20px 8px" role="status">
            Nothing waits here any more: somebody has answered or put it away. Your words are still here; look at what was said
            before you send them.
          </Words>
        )}
        {thread.opted_out ? (
          <Words brick line pad="12px 20px">
            They opted out and cannot be texted.
          </Words>
        ) : (
          mayDo(account.role, 'send') && (
            <AnswerBox
              thread={thread}
              language={
                person?.language && workspace.languages.includes(person.language) ? person.language : workspace.languages[0]
              }
              words={words}
              setWords={setWords}
              answered={settled}
            />
          )
        )}
        {mayWrite && <Acts thread={thread} waits={waits} busy={busy} now={now} settled={settled} />}
        {mayWrite && small && !thread.opted_out && (
          <Foot>
            <Ends thread={thread} known={person} settled={settled} />
          </Foot>
        )}
      </Pane>
      <Pane as="aside" card aria-label="Who they are">
        <PersonCard
          number={number}
          known={id === null ? undefined : known}
          labels={new Map(labels?.map((field) => [field.slug, field.label]))}
          now={now}
        />
        {thread.claimed_by && thread.claimed_by.id !== account.id && (
          <Words plum small above={12}>
            {thread.claimed_by.name} has claimed this.
          </Words>
        )}
        {/* beneath what is known of them, once that is there or cannot be had: nothing moves under a press */}
        {mayWrite && !small && !thread.opted_out && !asked.isLoading && <Ends thread={thread} known={person} settled={settled} />}
      </Pane>
    </>
  );
}

/** What can be done with it besides answering. */
function Acts({
  thread,
  waits,
  busy: held,
  now,
  settled,
}: {
  thread: Thread;
  waits: boolean;
  busy: boolean;
  now: number;
  settled: () => void;
}) {
  const { zone } = useDesk().workspace;
  const say = useSay();
  const putAway = useAct(replies.putAway);
  const bringBack = useAct(replies.bringBack);
  const { work, busy, error } = useWork();
  const { number, seen, later_at } = thread;
  const off = busy || held;
  const until = (at: string | null, words: string) =>
    void work(async () => {
      await putAway({ body: { number, seen, until: at } });
      say(words);
      settled();
    });
  const away = later_at !== null && Date.parse(later_at) > now;
  return (
    <Column pad="0 20px 12px" gap={8}>
      <Row gap={8}>
        <PassOn thread={thread} />
        {waits && !away && (
          <>
            <Later now={now} zone={zone} disabled={off} until={(at) => until(at, `Put away for ${ago(Date.parse(at) - now)}.`)} />
            <Button disabled={off} onClick={() => until(null, 'It needs no answer.')}>
              No answer needed
            </Button>
          </>
        )}
        {(away || (!waits && seen > 0)) && (
          <Button disabled={off} onClick={() => void work(() => bringBack({ body: { number } }))}>
            {away ? 'Bring it back now' : 'It needs an answer after all'}
          </Button>
        )}
        {away && (
          <Bit soft small>
            put away for {ago(Date.parse(later_at) - now)} more
          </Bit>
        )}
      </Row>
      <Trouble error={error} />
    </Column>
  );
}

/** They said stop, or it is not their number; and where something only may mean stop, both choices. */
function Ends({
  thread,
  known,
  settled,
}: {
  thread: Thread;
  known: { given_name: string; family_name: string } | undefined;
  settled: () => void;
}) {
  const say = useSay();
  const optOut = useAct(replies.optOut);
  const notStop = useAct(replies.notStop);
  const { work, busy, error } = useWork();
  const { number } = thread;
  const doubtful = thread.texts.some((text) => text.waits && (text.kind === 'maybe_stop' || text.kind === 'unread'));
  const away = (wrong_number: boolean) =>
    void work(async () => {
      await optOut({ body: { number, wrong_number } });
      say(
        wrong_number
          ? `${showPhone(number)} is a wrong number and is not texted again.`
          : `${writerOf(thread)} is not texted again.`,
      );
      settled();
    });
  return (
    <Column line pad="12px 0 0" gap={8}>
      {doubtful && (
        <Words plum small>
          What they wrote may mean stop. Nothing planned goes to them until you decide.
        </Words>
      )}
      <Row gap={8}>
        <Button disabled={busy} onClick={() => away(false)}>
          {doubtful ? 'It means stop' : 'They said stop'}
        </Button>
        {doubtful && (
          <Button
            disabled={busy}
            onClick={() =>
              void work(async () => {
                await notStop({ body: { number, seen: thread.seen } });
                say('They are texted again. Their text still waits for an answer.');
              })
            }
          >
            It does not
          </Button>
        )}
        <WrongNumber
          number={showPhone(number)}
          whose={known ? `${known.given_name} ${known.family_name}`.trim() : ''}
          confirm={() => away(true)}
        />
      </Row>
      <Trouble error={error} />
    </Column>
  );
}
