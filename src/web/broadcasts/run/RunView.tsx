import { Alert, Button, useMediaQuery, useTheme } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { mayDo } from '../../../core/api/roles';
import { runStateWords } from '../../../core/outcome/run-words';
import { runs, type RunAnswer } from '../../../core/api/sending/runs';
import { Refused, useAct, useGet } from '../../api/client';
import { useLeaving } from '../../api/leaving';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { ago, clockTime, count, people, when } from '../../pieces/format';
import { Bit, End, Head, Pane, Panes, Row, Words } from '../../pieces/layout';
import { State } from '../../pieces/chart/Ring';
import { Nothing, Trouble, useNow, useTitle, Waiting } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import { ClickChart } from './ClickChart';
import { DelayChart } from './DelayChart';
import { FollowUp } from '../list/FollowUp';
import { Labels } from '../list/Labels';
import { RunAside } from './RunAside';
import { RunBar } from './RunBar';
import { RunCourse } from './RunCourse';
import { RunRecipients } from './RunRecipients';
import { Asks, OtherDay } from './RunWaits';
import { STATES, stillOpen, type RunFilter } from './run-words';
import { Unopened } from '../../pieces/Unopened';

/** What is older than this is said with its time, ms. */
const COUNTED_LATELY = 5000;

const OVER: readonly string[] = ['settling', 'finished', 'stopped', 'missed'];

/** One run, live: what became of everyone, with pause and cancel while it goes. */
export default function RunView() {
  const id = Number(useParams().id);
  const navigate = useNavigate();
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 1000);
  const { leaving, leave } = useLeaving();
  const answer = useGet(runs.get, leaving ? undefined : { params: { id } }, { keep: true });
  const [filter, setFilter] = useState<RunFilter>({});
  // on a phone why and what was answered come before everybody one by one
  const small = useMediaQuery(useTheme().breakpoints.down('md'));
  const everybody = useRef<HTMLDivElement>(null);
  const doing = useWork();
  const { work, busy, error } = doing;
  const setAside = useAct(broadcasts.setAside);
  useTitle(answer.data?.run.name ?? 'Run');
  const broadcastId = answer.data?.run.broadcast_id;
  if (answer.error instanceof Refused && answer.error.status === 404 && broadcastId !== undefined)
    return <Gone run={id} broadcast={broadcastId} />;
  if (answer.error instanceof Refused && answer.error.status === 404) return <NoSuchRun />;
  if (answer.error && !answer.data) return <Unopened what="Run" error={answer.error} />;
  if (!answer.data) return <Waiting what="Opening the run…" />;
  const { run, tally, delays, events } = answer.data;
  const zone = workspace.zone;
  const maySend = mayDo(account.role, 'send');
  const series = run.goes_on || run.origin === 'repeat' || run.origin === 'import';
  const takeBack = (as: 'draft' | 'skipped') =>
    void work(async () => {
      // where it goes already, what becomes of it is looked at again
      await leave(() => setAside({ params: { id: run.broadcast_id }, body: { as } }));
      await navigate(as === 'skipped' ? '/' : `/broadcasts/${run.broadcast_id}`);
    });
  const waiting = run.state === 'waiting';
  const planning = run.state === 'planning';
  const over = OVER.includes(run.state);
  const recipients = !leaving && (
    <RunRecipients id={id} links={answer.data.clicks.links > 0} filter={filter} setFilter={setFilter} />
  );
  const see = (next: RunFilter) => {
    setFilter(next);
    everybody.current?.scrollIntoView();
  };
  return (
    <>
      <Head>
        <h1>{run.name || 'No name'}</h1>
        <Bit soft small>
          {waiting
            ? `goes at ${when(run.due_at, zone, now)}`
            : planning
              ? 'the plan is being written; nothing has started'
              : run.started_at
                ? `${runStateWords(run.state, tally)}, began ${when(run.started_at, zone, now)}`
                : runStateWords(run.state, tally)}
          {run.by ? `, by ${run.by}` : ''} · from {run.sender}
        </Bit>
        <Labels id={run.broadcast_id} labels={run.labels} may={mayDo(account.role, 'write')} />
        <Acts answer={answer.data} doing={doing} />
      </Head>
      {run.asks && <Asks run={run} may={maySend} />}
      {answer.data.other_day && <OtherDay run={id} waits={answer.data.other_day} may={maySend} zone={zone} now={now} />}
      {(waiting || planning) && maySend && <TakeBack run={run} now={now} busy={busy} series={series} takeBack={takeBack} />}
      <Panes columns="minmax(0, 1fr) 320px">
        <Pane as="section" pad="16px 20px" aria-label="What became of it">
          <Trouble error={error} />
          {run.note && (
            <Words below={10}>
              <Alert severity="error">{run.note}</Alert>
            </Words>
          )}
          <Progress answer={answer.data} now={now} all={() => see({})} />
          <RunBar answer={answer.data} />
          <Row gap={18} above={10}>
            {STATES.filter((state) => tally[state]).map((state) => (
              <Row nowrap gap={6} key={state}>
                <State state={state} />
                <Way aria-pressed={filter.state === state} onClick={() => see({ state })}>
                  {count(tally[state] ?? 0)}
                </Way>
              </Row>
            ))}
          </Row>
          {answer.data.course && run.started_at && <RunCourse course={answer.data.course} zone={zone} events={events} />}
          {delays.length > 0 && <DelayChart delays={delays} zone={zone} events={events} />}
          {answer.data.clicks.times.length > 1 && <ClickChart clicks={answer.data.clicks} zone={zone} />}
          {!over && now - Date.parse(answer.data.as_of) > COUNTED_LATELY && (
            <Words soft small>
              Reasons, course and delays as of {clockTime(answer.data.as_of, zone, true)}; they are counted again from time to
              time.
            </Words>
          )}
          {!small && recipients}
        </Pane>
        <RunAside answer={answer.data} see={see} />
        {small && (
          <Pane as="section" ref={everybody} aria-label="Everybody of it">
            {recipients}
          </Pane>
        )}
      </Panes>
    </>
  );
}

function NoSuchRun() {
  return (
    <Pane pad="0 20px">
      <Nothing title="There is no such run" act={<Way to="/outcomes">all that went</Way>}>
        Its address may be cut short, or it was taken back before anything went.
      </Nothing>
    </Pane>
  );
}

/** What can be done with the run as it is. */
function Acts({ answer, doing: { work, busy } }: { answer: RunAnswer; doing: ReturnType<typeof useWork> }) {
  const { account } = useDesk();
  const navigate = useNavigate();
  const make = useAct(broadcasts.make);
  const pause = useAct(runs.pause);
  const resume = useAct(runs.resume);
  const cancelRest = useAct(runs.cancelRest);
  const { run, tally } = answer;
  const { id } = run;
  const notGone = tally.planned ?? 0;
  const maySend = mayDo(account.role, 'send');
  return (
    <End>
      {/* the row is at the right: what grows, shrinks or goes while texts leave stands before Pause, which so stays under the hand */}
      {maySend && (run.state === 'sending' || run.state === 'paused') && notGone > 0 && (
        <Button color="error" disabled={busy} onClick={() => void work(() => cancelRest({ params: { id } }))}>
          Cancel the other {count(notGone)}
        </Button>
      )}
      {maySend && run.state === 'sending' && (
        <Button disabled={busy} onClick={() => void work(() => pause({ params: { id } }))}>
          Pause
        </Button>
      )}
      {maySend && run.state === 'paused' && (
        <Button variant="contained" disabled={busy} onClick={() => void work(() => resume({ params: { id } }))}>
          Go on with {count(notGone)}
        </Button>
      )}
      {run.started_at !== null && mayDo(account.role, 'write') && <FollowUp answer={answer} maySend={maySend} />}
      {run.started_at !== null && (
        <Button component={Link} to={`/runs/${id}/summary`}>
          Summary
        </Button>
      )}
      {OVER.includes(run.state) && mayDo(account.role, 'write') && (
        <Button
          disabled={busy}
          onClick={() =>
            void work(async () => {
              const made = await make({ body: { name: '', copy: run.broadcast_id } });
              await navigate(`/broadcasts/${made.id}`);
            })
          }
        >
          Copy it
        </Button>
      )}
    </End>
  );
}

/** The run is not there any more: it was taken back, or the server has planned it anew for whoever is there now. */
function Gone({ run, broadcast }: { run: number; broadcast: number }) {
  const now = useGet(broadcasts.get, { params: { id: broadcast } });
  if (now.isPending) return <Waiting what="Looking what became of it…" />;
  const anew = now.data?.state === 'scheduled' && now.data.run && now.data.run.id !== run ? now.data.run : undefined;
  return (
    <Pane grow>
      {anew ? (
        <Nothing title="It was planned anew" act={<Way to={`/runs/${anew.id}`}>Open the run as it is now</Way>}>
          It goes to whoever is there now: {people(anew.people)}.
        </Nothing>
      ) : (
        <Nothing title="It was taken back" act={<Way to={`/broadcasts/${broadcast}`}>Open the broadcast</Way>}>
          Somebody has just taken this run back. Nothing of it has gone.
        </Nothing>
      )}
    </Pane>
  );
}

const Fear = styled(Row)(({ theme }) => ({
  background: theme.bell.yellow,
  color: theme.bell.onYellow,
  borderBottom: `1px solid ${theme.bell.yellowEdge}`,
  padding: '12px 20px',
  gap: '8px 22px',
}));
const Back = styled(Button)(({ theme }) => ({
  background: theme.bell.onYellow,
  color: theme.bell.yellow,
  borderColor: theme.bell.onYellow,
  fontFamily: theme.head,
  fontWeight: 700,
  fontSize: 17,
  padding: '9px 20px',
  '&:hover': { background: theme.bell.onYellow, borderColor: theme.bell.onYellow, textDecoration: 'underline' },
}));

/** It can still be taken back: the loudest thing on the page, with the time that is left. */
function TakeBack({
  run,
  now,
  busy,
  series,
  takeBack,
}: {
  run: RunAnswer['run'];
  now: number;
  busy: boolean;
  /** More runs come after it: only this one can be skipped. */
  series: boolean;
  takeBack: (as: 'draft' | 'skipped') => void;
}) {
  const { workspace } = useDesk();
  const left = Math.max(0, Math.ceil((Date.parse(run.due_at) - now) / 1000));
  return (
    <Fear role="region" aria-label="It can still be taken back">
      <Bit fig figure="big">
        {run.state === 'planning' ? '…' : left < 120 ? `${left} s` : ago(left * 1000)}
      </Bit>
      <Words grow strong>
        {run.state === 'planning'
          ? `${count(run.stored)} of ${count(run.people)} texts are written down; nothing has gone`
          : left < 120
            ? `until the first of ${count(run.people)} goes`
            : `until ${when(run.due_at, workspace.zone, now)}, when the first of ${count(run.people)} goes`}
      </Words>
      {series && (
        <Back disabled={busy} onClick={() => takeBack('skipped')}>
          Skip this one
        </Back>
      )}
      <Back disabled={busy} onClick={() => takeBack('draft')}>
        {series ? 'Take it all back' : run.state === 'planning' ? 'Call it off' : 'Take it back'}
      </Back>
    </Fear>
  );
}

/** How far it is: delivered of all, and what is still open. */
function Progress({ answer, now, all }: { answer: RunAnswer; now: number; all: () => void }) {
  const { run, tally } = answer;
  const { workspace } = useDesk();
  const notGone = tally.planned ?? 0;
  const toGo = run.state === 'sending' && notGone > 0 ? Math.max(0, Date.parse(run.last_due_at) - now) : 0;
  const open = stillOpen(run, tally);
  return (
    <Row between base aria-live="polite" below={8}>
      <Row base gap={12}>
        <Bit fig figure="big">
          {count(tally.delivered ?? 0)}
        </Bit>
        <span>
          of <Way onClick={all}>{count(run.people)}</Way> delivered
        </span>
      </Row>
      {toGo > 0 ? (
        <Row base>
          <Bit fig figure="mid">
            {toGo < 120_000 ? `${Math.ceil(toGo / 1000)} s` : ago(toGo)}
          </Bit>{' '}
          to go
        </Row>
      ) : (
        <Bit soft>{open || (run.ended_at ? `ended ${when(run.ended_at, workspace.zone, now)}` : '')}</Bit>
      )}
    </Row>
  );
}
