import { showPhone } from '../pieces/phone';
import { Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useRef } from 'react';
import { people as peopleApi } from '../../core/api/people/people';
import { replies, type Thread } from '../../core/api/desk/replies';
import { ask, useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { Editor, useEditorKnows } from '../broadcasts/for-others';
import { money, parts, when } from '../pieces/format';
import { Bit, Row, Spoken, TextBox, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble, useSettled } from '../pieces/small';
import { writerOf } from './reply-words';

const NO_LINKS = [] as const;

/** The answer: with `{` as everywhere, shown as they get it, with what it costs and from where. */
export function AnswerBox({
  thread,
  language,
  words,
  setWords,
  answered,
}: {
  thread: Thread;
  /** In which they are written to. */
  language: string;
  words: string;
  setWords: (words: string) => void;
  answered: () => void;
}) {
  const { workspace } = useDesk();
  const say = useSay();
  const { work, busy, error } = useWork();
  const send = useAct(replies.answer);
  const insert = useRef<((text: string) => void) | undefined>(undefined);
  const sources = useGet(peopleApi.sources, {}, { keep: true }).data;
  const knows = useEditorKnows({
    sources,
    words,
    language,
    links: NO_LINKS,
    reader: thread.person_id === null ? undefined : { person_id: thread.person_id },
    answering: true,
  });
  const settled = useSettled(words, 250);
  const blank = words.trim() === '';
  const { number } = thread;
  const proof = useQuery({
    queryKey: ['proof of an answer', number, settled],
    queryFn: () => ask(replies.proof, { body: { number, words: settled } }),
    enabled: settled.trim() !== '',
    gcTime: 20_000,
  }).data;
  const current = settled === words && !blank ? proof : undefined;
  const name = writerOf(thread);
  return (
    <Words line pad="12px 20px">
      <Trouble error={error} />
      <Spoken id="answer-label">Answer {name}</Spoken>
      <Editor
        value={words}
        onChange={setWords}
        {...knows}
        language={language}
        labelledBy="answer-label"
        readOnly={false}
        handle={insert}
        low
        hint="Answer. Type { for a field or a ready answer."
      />
      {current && current.text !== words && current.problems.length === 0 && (
        <TextBox small aria-label="As they get it">
          {current.text}
        </TextBox>
      )}
      {current?.problems.map((problem) => (
        <Words brick small role="status" key={problem}>
          {problem}
        </Words>
      ))}
      {current?.goes_at && (
        <Words plum small role="status">
          It is night for them, and they wrote long ago: it goes at{' '}
          {when(current.goes_at, workspace.zone, Date.parse(current.goes_at))}.
        </Words>
      )}
      <Row above={8} gap={12}>
        <Button
          variant="contained"
          disabled={busy || blank || (current?.problems.length ?? 0) > 0}
          onClick={() =>
            void work(async () => {
              await send({ body: { number, words, seen: thread.seen, answered: thread.answered } });
              say(current?.goes_at ? `It goes to ${name} in the morning.` : `Sent to ${name}.`);
              answered();
            })
          }
        >
          Send to {name}
        </Button>
        <Button onClick={() => insert.current?.('{')}>Put in a field or a ready answer</Button>
        <Bit soft small>
          {current && current.cost_micro !== null
            ? `${parts(current.parts)}, ${money(current.cost_micro, workspace.currency)}`
            : ''}
          {thread.sender && `${current ? ', ' : ''}from ${showPhone(thread.sender.address)}`}
        </Bit>
      </Row>
    </Words>
  );
}
