import type { RunAnswer } from '../../../core/api/sending/runs';
import { formatDay } from '../../../core/merge/date-pattern';
import { useDesk } from '../../api/session';
import { clockTime, count } from '../../pieces/format';
import { Beginning, Bit, Column, Pane, Row, Words } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { Way } from '../../pieces/ways';
import { RunAlarms } from './RunAlarms';
import { RunCost } from './RunCost';
import { RunLeft } from './RunLeft';
import { RunLedger } from './RunLedger';
import { RunTally } from './RunTally';
import { RunReasons } from './RunReasons';
import { RunWords } from './RunWords';
import type { RunFilter } from './run-words';

/** Why not everyone got it, what was answered, what it cost, and its course. */
export function RunAside({ answer, see }: { answer: RunAnswer; see: (filter: RunFilter) => void }) {
  const over = answer.run.ended_at !== null;
  const { run, reasons, replies, money: spent, clicks } = answer;
  const { workspace } = useDesk();
  const zone = workspace.zone;
  const { answers } = answer;
  const some = replies.filter((reply) => reply.kind === 'reply' || reply.kind === 'maybe_stop');
  const unsent = reasons.filter((each) => each.state === 'not_sent');
  return (
    <Pane as="aside" card aria-label="Reasons, answers, cost">
      <Column gap={16}>
        <RunAlarms answer={answer} />
        <RunReasons
          answer={answer}
          title="Not delivered"
          reasons={reasons.filter((each) => each.state !== 'not_sent')}
          see={see}
        />
        {unsent.length > 0 && <RunReasons answer={answer} title="Not sent" reasons={unsent} see={see} />}
        <RunTally run={run.id} />
        <div>
          <Words as="h2" under below={6}>
            Answers
          </Words>
          <Row between under pad="7px 0">
            <span>
              <b>{count(answers.people)}</b> answered
              {answers.texts > answers.people ? `, ${count(answers.texts)} texts` : ''}
              {answers.waiting > 0 ? `, ${count(answers.waiting)} to answer` : ''}
            </span>
            <Way small to={`/replies?run=${run.id}`}>
              open
            </Way>
          </Row>
          {run.replies_until !== null && (
            <Words soft small above={4}>
              Replies are read until {formatDay(run.replies_until, 'EEE, MMM d', 'en')}, as the text says
            </Words>
          )}
          {answer.alike.map((each) => (
            <Row between soft small key={each.body}>
              <Bit cut>“{each.body}”</Bit>
              <Bit num fixed>
                {count(each.people)} say it
              </Bit>
            </Row>
          ))}
          {(answer.alike.length > 0 ? some.slice(0, 1) : some.slice(0, 3)).map((reply, i) => (
            <Words as="p" soft small above={4} key={i}>
              <Beginning>“{reply.body}”</Beginning>
            </Words>
          ))}
          {clicks.links > 0 && (
            <Words under pad="7px 0">
              <b>{count(clicks.clicked)}</b> clicked {clicks.by.length > 1 ? 'a link' : 'the link'}
              {(clicks.opens > clicks.clicked || clicks.machines > 0) && (
                <Words soft small>
                  {clicks.opens > clicks.clicked ? `opened ${count(clicks.opens)} times in all` : ''}
                  {clicks.opens > clicks.clicked && clicks.machines > 0 ? '; ' : ''}
                  {clicks.machines > 0
                    ? `${count(clicks.machines)} opened by machines that say so (previews, scanners), not counted`
                    : ''}
                </Words>
              )}
              {clicks.by.length > 1 &&
                clicks.by.map((link) => (
                  <Words soft small key={`${link.name} ${link.address}`} title={link.address}>
                    {link.name}: {count(link.clicked)} of {count(link.links)}
                  </Words>
                ))}
            </Words>
          )}
          <Words under pad="7px 0">
            <b>{count(answer.opted_out)}</b> opted out
            {answer.stops.map((each) => (
              <Words soft small key={each.number}>
                <Way to={`/replies?number=${encodeURIComponent(each.number)}`}>{each.name || showPhone(each.number)}</Way> “
                {each.words}”
              </Words>
            ))}
          </Words>
        </div>
        <RunWords words={answer.words} />
        <RunLeft answer={answer} />
        <RunLedger answer={answer} />
        <RunCost spent={spent} shown={run} ended={over} currency={workspace.currency} />
        {answer.beside.length > 0 && (
          <div>
            <h2>Beside them</h2>
            {(['opt_out', 'copy'] as const).map((kind) => {
              const those = answer.beside.filter((each) => each.kind === kind);
              return (
                those.length > 0 && (
                  <Words as="p" small key={kind}>
                    {kind === 'opt_out' ? 'texts for opting out' : 'copies for the desk'}:{' '}
                    {those.map((each) => `${count(each.n)} ${each.state.replaceAll('_', ' ')}`).join(', ')}
                  </Words>
                )
              );
            })}
          </div>
        )}
        <div>
          <h2>Course</h2>
          <Words as="ul" small soft>
            {courseOf(answer).map(({ at, what }, i) => (
              <li key={i}>
                {clockTime(at, zone, true)} {what}
              </li>
            ))}
          </Words>
        </div>
      </Column>
    </Pane>
  );
}

/** What happened in the order in which it did: agreed, begun, paused, ended. */
function courseOf({ run, events }: RunAnswer): { at: string; what: string }[] {
  return [
    ...events.map(({ at, what, by }) => ({ at, what: by ? `${what}, ${by}` : what })),
    ...(run.started_at ? [{ at: run.started_at, what: 'began' }] : []),
    ...(run.ended_at ? [{ at: run.ended_at, what: 'ended' }] : []),
  ].sort((a, b) => Date.parse(a.at) - Date.parse(b.at));
}
