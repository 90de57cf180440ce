import { Button } from '@mui/material';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { broadcasts } from '../../core/api/sending/broadcasts';
import { alarms as alarmsApi, runs } from '../../core/api/sending/runs';
import { replies as repliesApi, type Conversation } from '../../core/api/desk/replies';
import { mayDo } from '../../core/api/roles';
import type { TodayAnswer } from '../../core/api/desk/today';
import { useAct } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { Field } from '../pieces/form/Field';
import { ago, count, when } from '../pieces/format';
import { Beginning, Bit, Column, Pane, Row, Words } from '../pieces/layout';
import { showPhone } from '../pieces/phone';
import { Ring } from '../pieces/chart/Ring';
import { useSay } from '../pieces/Said';
import { Trouble, useNow } from '../pieces/small';
import { Way } from '../pieces/ways';
import { wayTo, Failing } from '../setup/for-others';

/** What waits for a person: answered and decided in place. */
export function NeedsYou({ today }: { today: TodayAnswer }) {
  const { alarms, failing, replies, uncertain, failed, missed, asking, imports, missing } = today;
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 5000);
  const navigate = useNavigate();
  const copy = useAct(broadcasts.make);
  const { work, error } = useWork();
  const zone = workspace.zone;
  const quiet =
    alarms.length +
      failing.length +
      replies.length +
      uncertain.length +
      failed.length +
      missed.length +
      asking.length +
      imports.length +
      missing.length ===
    0;
  return (
    <Pane as="section" card pad="14px 20px" aria-label="Needs you">
      <Words as="h2" figure="line" below={12}>
        Needs you
      </Words>
      <Trouble error={error} />
      {missing.length > 0 && <Missing missing={missing} />}
      {quiet && (
        <Words as="p" line soft above={10}>
          Nothing waits for you. What is not delivered, what may have been missed, and answers that nobody has read stand here.
        </Words>
      )}
      {alarms.map((alarm) => (
        <Wrong alarm={alarm} at={when(alarm.at, zone, now)} key={alarm.id} />
      ))}
      {failing.map((job) => (
        <Failing job={job} key={`${job.kind} ${job.key}`} />
      ))}
      {replies.length > 0 && <Waiting replies={replies} total={today.replies_waiting} key={replies[0].number} />}
      {asking.map((run) => (
        <Asking run={run} key={run.id} />
      ))}
      {missed.map((run) => (
        <Column line pad="10px 0" gap={4} key={run.id}>
          <Row between base>
            <Words as="h3" brick>
              {run.name} was missed
            </Words>
            <Bit soft small>
              {when(run.due_at, zone, now)}
            </Bit>
          </Row>
          <Words as="p" soft small>
            {run.note}
          </Words>
          <div>
            <Button
              onClick={() =>
                void work(async () => {
                  const { id } = await copy({ body: { name: run.name, copy: run.broadcast_id } });
                  await navigate(`/broadcasts/${id}`);
                })
              }
            >
              Copy it to send now
            </Button>
          </div>
        </Column>
      ))}
      {failed.map((each) => (
        <Matter
          key={`${each.id}${each.reason}`}
          state="not_delivered"
          words={`${count(each.n)} not delivered: ${each.reason ?? 'no reason given'}`}
          run={each}
          at={when(each.at, zone, now)}
        />
      ))}
      {uncertain.map((each) => (
        <Matter
          key={each.id}
          state="uncertain"
          words={`${count(each.n)} ${each.n === 1 ? 'text' : 'texts'} uncertain`}
          run={each}
          at={when(each.at, zone, now)}
          more="The line to the carrier broke as they went. They may have arrived; they are never sent again by themselves."
        />
      ))}
      {imports.map((each) => (
        <Row line between base nowrap pad="10px 0" key={each.id}>
          <span>
            {each.file_name} {each.state === 'writing' ? 'is being brought in' : 'is on the bench; nothing is written yet'}
          </span>
          <Way small nobreak to={`/people/bring-in/${each.id}`}>
            open the bench
          </Way>
        </Row>
      ))}
    </Pane>
  );
}

/** What is wrong with a run: it stands here until somebody has seen it. */
function Wrong({ alarm, at }: { alarm: TodayAnswer['alarms'][number]; at: string }) {
  const { account } = useDesk();
  const seen = useAct(alarmsApi.seen);
  const { work, busy, error } = useWork();
  return (
    <Column line pad="10px 0" gap={4}>
      <Row between base nowrap>
        <Words as="h3" brick>
          {alarm.run || 'no name'}: {alarm.words}
        </Words>
        <Bit soft small nobreak>
          {at}
        </Bit>
      </Row>
      <Row between base>
        <Bit soft small>
          {alarm.told ? `${alarm.told} was told by text` : (alarm.trouble ?? 'nobody was told by text')}
        </Bit>
        <Row gap={12}>
          <Way small to={`/runs/${alarm.run_id}`}>
            look at it
          </Way>
          {mayDo(account.role, 'write') && (
            <Button disabled={busy} onClick={() => void work(() => seen({ params: { id: alarm.id } }))}>
              I have seen it
            </Button>
          )}
        </Row>
      </Row>
      <Trouble error={error} />
    </Column>
  );
}

/** A run that differs much from the one before: it goes when somebody says so, or is skipped. */
function Asking({ run }: { run: TodayAnswer['asking'][number] }) {
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 5000);
  const agree = useAct(runs.agree);
  const skip = useAct(broadcasts.setAside);
  const { work, busy, error } = useWork();
  return (
    <Column line pad="10px 0" gap={4}>
      <Row between base>
        <h3>{run.name || 'no name'} waits for you</h3>
        <Bit soft small>
          {when(run.due_at, workspace.zone, now)}
        </Bit>
      </Row>
      <Words as="p" small>
        {run.asks}.{' '}
        <Way small to={`/runs/${run.id}`}>
          see them
        </Way>
      </Words>
      <Trouble error={error} />
      {mayDo(account.role, 'send') && (
        <Row>
          <Button
            variant="contained"
            disabled={busy}
            onClick={() => void work(() => agree({ params: { id: run.id }, body: {} }))}
          >
            Let it go
          </Button>
          <Button
            disabled={busy}
            onClick={() => void work(() => skip({ params: { id: run.broadcast_id }, body: { as: 'skipped' } }))}
          >
            Skip this one
          </Button>
        </Row>
      )}
    </Column>
  );
}

/** What a first text still needs. */
function Missing({ missing }: { missing: TodayAnswer['missing'] }) {
  return (
    <Column line pad="10px 0" gap={6}>
      <Row between base>
        <h3>Before a first text</h3>
        <Way small to="/start">
          go through it on one page
        </Way>
      </Row>
      {missing.map((each) => (
        <Row between base nowrap gap={12} key={each.what}>
          <span>
            <Bit strong>{each.what}.</Bit> <Bit soft>{each.why}</Bit>
          </span>
          <Way small nobreak to={wayTo(each.part)}>
            put it right
          </Way>
        </Row>
      ))}
    </Column>
  );
}

/** Something of a run that went wrong: what, of which run and when on one line, wherever the words end. */
function Matter({
  state,
  words,
  run,
  at,
  more,
}: {
  state: 'not_delivered' | 'uncertain';
  words: string;
  run: { id: number; name: string };
  at: string;
  more?: string;
}) {
  return (
    <Column line pad="10px 0" gap={3}>
      <Row as="h3" nowrap base>
        <Bit brick={state === 'not_delivered'} plum={state === 'uncertain'} fixed>
          <Ring state={state} />
        </Bit>
        {words}
      </Row>
      {more && (
        <Words as="p" soft small>
          {more}
        </Words>
      )}
      <Row small between base nowrap>
        <Bit soft cut>
          {run.name || 'no name'}, {at}
        </Bit>
        <Way nobreak to={`/runs/${run.id}`}>
          see them
        </Way>
      </Row>
    </Column>
  );
}

function Waiting({ replies, total }: { replies: readonly Conversation[]; total: number }) {
  const { account, offset } = useDesk();
  const now = useNow(offset, 5000);
  const say = useSay();
  const answer = useAct(repliesApi.answer);
  const notStop = useAct(repliesApi.notStop);
  const optOut = useAct(repliesApi.optOut);
  const { work, error, busy } = useWork();
  const [words, setWords] = useState('');
  return (
    <Words line pad="10px 0">
      <Row between base under below={7}>
        <h3>{total === 1 ? 'A reply waits' : `${count(total)} replies wait`} for an answer</h3>
        <Way small to="/replies">
          open them
        </Way>
      </Row>
      <Trouble error={error} />
      {replies.map((each, i) => {
        const { number, last } = each;
        const name = each.name || showPhone(number);
        return (
          <Row nowrap pad="7px 0 3px" base gap={12} key={number}>
            <Bit fig width={64} fixed figure="line">
              {ago(now - Date.parse(each.since ?? last.at))}
            </Bit>
            <Words grow>
              <Beginning>
                <Way to={`/replies?number=${encodeURIComponent(number)}`}>{name}</Way> “{last.body}”
              </Beginning>
              {each.doubtful !== null && (
                <Row above={4}>
                  <Bit soft small>
                    {each.doubtful !== last.body ? `“${each.doubtful.slice(0, 120)}” ` : ''}
                    may mean stop; nothing planned goes to them until you decide
                  </Bit>
                  <Button disabled={busy} onClick={() => void work(() => optOut({ body: { number, wrong_number: false } }))}>
                    Never text this number
                  </Button>
                  <Button disabled={busy} onClick={() => void work(() => notStop({ body: { number, seen: last.id } }))}>
                    It does not
                  </Button>
                </Row>
              )}
              {i === 0 && !each.opted_out && mayDo(account.role, 'send') && (
                <Row
                  as="form"
                  nowrap
                  above={5}
                  onSubmit={(event: React.FormEvent) => {
                    event.preventDefault();
                    void work(async () => {
                      await answer({ body: { number, words, seen: last.id, answered: each.answered } });
                      setWords('');
                      say(`Sent to ${name}.`);
                    });
                  }}
                >
                  <Field label={`Answer ${name}`} placeholder="Answer…" value={words} onChange={setWords} />
                  <Button type="submit" variant="contained" disabled={busy || words.trim() === ''}>
                    Send
                  </Button>
                </Row>
              )}
            </Words>
          </Row>
        );
      })}
    </Words>
  );
}
