import { showPhone } from '../../pieces/phone';
import { sumsOf } from '../../../core/outcome/sums-of';
import { styled } from '@mui/material/styles';
import { useParams } from 'react-router';
import { runStateWords } from '../../../core/outcome/run-words';
import { runs } from '../../../core/api/sending/runs';
import { useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { clockTime, count, dayOf, money, parts, people } from '../../pieces/format';
import { Bit, Column, Row, Words } from '../../pieces/layout';
import { Paper } from '../../pieces/chart/Paper';
import { State } from '../../pieces/chart/Ring';
import { useTitle, Waiting } from '../../pieces/small';
import { RunBar } from './RunBar';
import { RunCourse } from './RunCourse';
import { RunLedger } from './RunLedger';
import { RunWords } from './RunWords';
import { STATES } from './run-words';
import { Unopened } from '../../pieces/Unopened';

const Two = styled('div')(({ theme }) => ({
  display: 'grid',
  gridTemplateColumns: '1.2fr 1fr',
  gap: '18px 34px',
  [theme.breakpoints.down('md')]: { gridTemplateColumns: '1fr' },
}));

/** One page that prints: numbers, bar, course, words, cost, and who sent it. */
export default function RunSummary() {
  const id = Number(useParams().id);
  const { workspace, session } = useDesk();
  const { data: answer, error } = useGet(runs.get, { params: { id } }, { keep: true });
  useTitle(answer ? `${answer.run.name}, summary` : 'Summary');
  if (!answer) return error ? <Unopened what="Summary" error={error} /> : <Waiting what="Opening the summary…" />;
  const { run, tally, reasons, clicks, answers, words } = answer;
  const { zone, currency } = workspace;
  const { delivered, notDelivered: failed, notSent } = sumsOf(tally);
  const began = run.started_at ?? run.due_at;
  return (
    <Paper label="The summary" back={run.name || 'No name'} backTo={`/runs/${id}`}>
      <Row between base>
        <h1>{run.name || 'No name'}</h1>
        <Bit soft>{session.name}</Bit>
      </Row>
      <Words soft below={14}>
        {dayOf(began, zone)}, {clockTime(began, zone)} to {clockTime(run.ended_at ?? run.last_due_at, zone)}
        {run.by ? `, sent by ${run.by}` : ''} from {run.sender} ({showPhone(run.sender_address)}),{' '}
        {runStateWords(run.state, tally)}
        {run.ended_at === null && '. Not at its end yet: figures are of now'}
      </Words>
      <Row base gap={12} below={8}>
        <Bit fig figure="big">
          {count(delivered)}
        </Bit>
        <span>
          of {count(run.people)} delivered{failed > 0 ? `, ${count(failed)} not` : ''}
          {notSent > 0 ? `, ${count(notSent)} not sent` : ''}
        </span>
      </Row>
      <RunBar answer={answer} />
      <Row gap={18} above={8} small>
        {STATES.filter((state) => tally[state]).map((state) => (
          <Row nowrap gap={6} key={state}>
            <State state={state} />
            <b>{count(tally[state] ?? 0)}</b>
          </Row>
        ))}
      </Row>
      {answer.course && <RunCourse course={answer.course} zone={zone} events={answer.events} />}
      <Words above={18}>
        <Two>
          <Column gap={14}>
            <RunWords words={words} />
            <section aria-label="Why not">
              <Words as="h2" under below={4}>
                Why not everyone
              </Words>
              {reasons.length === 0 && (
                <Bit soft>
                  {delivered === run.people ? 'Everyone got it.' : `Of ${people(run.people - delivered)} it is not known yet.`}
                </Bit>
              )}
              {reasons.map((each) => (
                <Row between nowrap base small pad="2px 0" key={each.state + each.reason}>
                  <span>{each.reason}</span>
                  <Bit num>{count(each.n)}</Bit>
                </Row>
              ))}
            </section>
          </Column>
          <Column gap={14}>
            <RunLedger answer={answer} />
            <section aria-label="Afterwards">
              <Words as="h2" under below={4}>
                Afterwards
              </Words>
              <Words small>
                <b>{count(answers.people)}</b> answered
                {clicks.links > 0 && (
                  <>
                    , <b>{count(clicks.clicked)}</b> of {count(clicks.links)} clicked
                  </>
                )}
                , <b>{count(answer.opted_out)}</b> opted out
              </Words>
            </section>
            <Asked run={run.id} />
            <section aria-label="Cost">
              <Words as="h2" under below={4}>
                Cost
              </Words>
              <Bit fig figure="mid">
                {money(answer.money.spent, currency)}
              </Bit>{' '}
              <Bit soft small>
                {parts(answer.money.parts)}; {money(run.cost_micro, currency)} and {parts(run.parts)} were shown before
              </Bit>
            </section>
          </Column>
        </Two>
      </Words>
    </Paper>
  );
}

/** What was answered to the question that it asked, each person counted once. */
function Asked({ run }: { run: number }) {
  const answer = useGet(runs.tally, { params: { id: run } }, { keep: true }).data;
  if (!answer || answer.choices.length === 0) return null;
  const { choices, people: said, doubts, others, silent } = answer;
  const lines: (readonly [string, number])[] = [
    ...choices.map((label, i) => [`${i + 1} ${label}`, said[i]] as const),
    ...(doubts > 0 ? ([['doubtful', doubts]] as const) : []),
    ...(others > 0 ? ([['wrote something else', others]] as const) : []),
    ['got it and have not answered', silent],
  ];
  return (
    <section aria-label="Answers to the question">
      <Words as="h2" under below={4}>
        What was answered
      </Words>
      {lines.map(([label, n]) => (
        <Row between nowrap base small pad="2px 0" key={label}>
          <span>{label}</span>
          <Bit num>{count(n)}</Bit>
        </Row>
      ))}
    </section>
  );
}
