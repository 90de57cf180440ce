import { calledOf } from '../../../core/plan/draft/called';
import type { Draft } from '../../../core/plan/draft/draft';
import type { PlanSummary } from '../../../core/api/sending/plan';
import { Button } from '@mui/material';
import { Link, useNavigate, useParams } from 'react-router';
import { people } from '../../../core/api/people/people';
import { today } from '../../../core/api/desk/today';
import { iso } from '../../../core/clock';
import { localInstant, wallClock } from '../../../core/zones';
import { useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { ReadSheet } from '../sheet/ReadSheet';
import { Clashes, Others, useOthers } from '../sheet/Others';
import { Counting } from '../sheet/Counting';
import { useDraft } from '../sheet/draft-state';
import { Shown } from '../../pieces/form/choices';
import { when as whenWords } from '../../pieces/format';
import { Bit, Column, End, Head, Pane, Panes, Words } from '../../pieces/layout';
import { Trouble, useNow, useTitle, Waiting } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import { keepChosen } from './chosen-before';
import { kindOf, WHEN_KINDS, whenOf } from './kinds';
import { NextDates } from './NextDates';
import { PlanPicture } from './PlanPicture';
import { Rehearse } from './Rehearse';
import { Sentence } from './Sentence';
import { Unopened } from '../../pieces/Unopened';

/** What dragging an edge of the picture does: the start, and until when it is spread. */
function movesOf(
  draft: Draft,
  plan: PlanSummary | undefined,
  zone: string,
  now: number,
  change: (part: Partial<Draft>) => void,
): { moveStart: (to: number) => void; moveEnd: (to: number) => void } {
  const { when } = draft;
  const moveStart = (to: number) => {
    if (when.kind !== 'at' || to <= now) return;
    const { date, time } = wallClock(to, zone);
    // of one that is repeated only the hour moves
    change({ when: when.repeats ? { ...when, time: time.slice(0, 5) } : { ...when, date, time: time.slice(0, 5) } });
  };
  const moveEnd = (to: number) => {
    if (!plan?.first || to <= Date.parse(plan.first)) return;
    const { date, time } = wallClock(to, zone);
    change({ pace: { kind: 'until', date: runDate(date), time: time.slice(0, 5) } });
  };
  /** What is said of the end of the pace is said of the first date. */
  function runDate(date: string): string {
    if (when.kind !== 'at' || !plan?.first) return date;
    const firstDay = wallClock(Date.parse(plan.first), zone).date;
    if (firstDay === when.date) return date;
    const days = Date.parse(firstDay) - Date.parse(when.date);
    return new Date(Date.parse(date) - days).toISOString().slice(0, 10);
  }
  return { moveStart, moveEnd };
}

/** When, opened: how it goes as one sentence of values, the run that comes next as a picture, and the dates after it. */
export default function When() {
  const id = Number(useParams().id);
  const navigate = useNavigate();
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const state = useDraft(id);
  const sources = useGet(people.sources, {}, { keep: true }).data;
  const { work, error: trouble } = useWork();
  const { others } = useOthers(id, 'when');
  useTitle('When');
  const { answer, draft, plan } = state;
  const { zone } = workspace;
  const firstDay = plan?.first ? wallClock(Date.parse(plan.first), zone).date : undefined;
  const day = useGet(today.day, firstDay ? { query: { date: firstDay } } : undefined, { keep: true }).data;
  if (state.error && !draft) return <Unopened what="When" error={state.error} />;
  if (!draft || !answer) return <Waiting what="Opening…" />;
  if (answer.state !== 'draft' && answer.state !== 'set_aside') return <ReadSheet broadcast={answer} />;
  const { when } = draft;
  const repeats = when.kind === 'at' ? when.repeats : undefined;
  const wrong = plan?.must_fix.filter(({ place }) => place === 'when') ?? [];
  const hints = plan?.hints.filter(({ place }) => place === 'when') ?? [];
  const also = (day?.runs ?? []).filter(
    (run) =>
      plan?.first &&
      plan.last &&
      run.state !== 'finished' &&
      run.state !== 'settling' &&
      Date.parse(run.first) < Date.parse(plan.last) + 3_600_000 &&
      Date.parse(run.last) > Date.parse(plan.first) - 3_600_000,
  );
  const { moveStart, moveEnd } = movesOf(draft, plan, zone, now, state.change);
  const look = () =>
    void work(async () => {
      await state.flush();
      await navigate(`/broadcasts/${id}/last-look`);
    });
  return (
    <>
      <Head>
        <h1>{calledOf({ name: state.name, words: draft.words }) || 'New broadcast'}</h1>
        <Bit soft>when</Bit>
        <Others others={others} />
        <End>
          <Bit soft small role="status">
            {state.saved === 'saving' ? 'saving…' : state.saved === 'not saved' ? 'not saved' : state.saved ? 'saved' : ''}
          </Bit>
          <Button component={Link} to={`/broadcasts/${id}`}>
            Back to the sheet
          </Button>
        </End>
      </Head>
      <Clashes state={state} />
      <Panes columns="minmax(0, 1fr) 326px">
        <Pane as="section" aria-label="When">
          <Column gap={12}>
            <Shown
              label="When"
              value={kindOf(draft)}
              options={WHEN_KINDS}
              onChange={(kind) => state.change({ when: whenOf(kind, draft, now, zone, keepChosen(id, draft)) })}
            />
            <Sentence draft={draft} plan={plan} sources={sources} change={state.change} />
            {wrong.map((each) => (
              <Words brick small role="alert" key={each.message}>
                {each.message}{' '}
                {each.instead && when.kind === 'at' && (
                  <Way small onClick={() => state.change({ when: { ...when, ...each.instead } })}>
                    take {whenWords(iso(localInstant(each.instead.date, each.instead.time, zone).instant), zone, now)}
                  </Way>
                )}
              </Words>
            ))}
            <Column line above={12}>
              {plan && plan.people > 0 ? (
                <PlanPicture
                  plan={plan}
                  also={also}
                  now={now}
                  moveStart={when.kind === 'at' ? moveStart : undefined}
                  moveEnd={moveEnd}
                />
              ) : plan ? (
                <Words soft>Nobody gets it yet, so there is nothing to draw.</Words>
              ) : (
                <Counting error={state.uncounted} />
              )}
            </Column>
            {plan && plan.people > 0 && <Rehearse id={id} draft={draft} now={now} change={state.change} />}
            {hints.map((hint) => (
              <Words small plum key={hint.message}>
                {hint.message}
              </Words>
            ))}
          </Column>
        </Pane>
        <Comes when={when} repeats={repeats} plan={plan} state={state} trouble={trouble} look={look} />
      </Panes>
    </>
  );
}

/** The dates after it, and the way to the last look. */
function Comes({
  when,
  repeats,
  plan,
  state,
  trouble,
  look,
}: {
  when: Draft['when'];
  repeats: Extract<Draft['when'], { kind: 'at' }>['repeats'];
  plan: PlanSummary | undefined;
  state: ReturnType<typeof useDraft>;
  trouble: unknown;
  look: () => void;
}) {
  return (
    <Pane as="section" aria-label="What comes" card>
      <Column gap={16}>
        {when.kind === 'at' && repeats ? (
          <NextDates
            at={when}
            repeats={repeats}
            plan={plan}
            change={(next) => state.change({ when: { ...when, repeats: next } })}
          />
        ) : (
          <Words soft small>
            It goes {when.kind === 'import' ? 'with each import' : 'once'}
            {when.kind === 'now' && when.again ? ', and again whenever somebody says so' : ''}.
          </Words>
        )}
        <Trouble error={trouble ?? (state.saved === 'not saved' ? state.error : undefined)} />
        <Button variant="go" disabled={!state.planning && plan !== undefined && plan.must_fix.length > 0} onClick={look}>
          Last look
        </Button>
      </Column>
    </Pane>
  );
}
