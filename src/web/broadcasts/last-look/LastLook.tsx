import { Box, Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { broadcasts, type BroadcastAnswer } from '../../../core/api/sending/broadcasts';
import type { PlanSummary } from '../../../core/api/sending/plan';
import { mayDo } from '../../../core/api/roles';
import { iso } from '../../../core/clock';
import { repeatWords } from '../../../core/plan/times/repeat-words';
import { reasonWords } from '../../../core/plan/picture/differences';
import { localInstant } from '../../../core/zones';
import { ask, Refused, useAct } from '../../api/client';
import { useDesk } from '../../api/session';
import { clockTime, count, dayOf, listed, money, people, when, zoneName } from '../../pieces/format';
import { Bit, Column, Fact, Pane, Row, TextBox, Words } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { Trouble, useNow, useTitle, Waiting } from '../../pieces/small';
import { PlanPicture } from '../when/PlanPicture';
import { Different } from './Different';
import { linkRemarks, useLinkCheck } from '../words/link-check';
import { SinceTest } from './SinceTest';

const Slip = styled(Box)(({ theme }) => ({
  maxWidth: 1080,
  width: 'calc(100% - 40px)',
  margin: 'auto',
  background: theme.bell.card,
  border: `1px solid ${theme.bell.edge}`,
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) 316px',
  '& > div': { padding: '20px 26px' },
  '& > div + div': { borderLeft: `2px dashed ${theme.bell.edge}` },
  [theme.breakpoints.down('md')]: {
    display: 'block',
    width: '100%',
    borderLeft: 0,
    borderRight: 0,
    '& > div + div': { borderLeft: 0, borderTop: `2px dashed ${theme.bell.edge}` },
  },
}));
const ZONES = 5;
const NO_LINKS = { link: null };
const parts = (n: number) => (n === 1 ? '1 part' : `${count(n)} parts`);

/** The final summary before the irreversible act. What stands here is what then happens. */
export default function LastLook() {
  useTitle('Last look');
  const id = Number(useParams().id);
  const navigate = useNavigate();
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 10_000);
  const [broadcast, setBroadcast] = useState<BroadcastAnswer>();
  const [shown, setShown] = useState<{ plan: PlanSummary; digest: string }>();
  const [error, setError] = useState<unknown>();
  // what a refused press was shown, to say what is different now
  const [refusedWith, setRefusedWith] = useState<PlanSummary>();
  const [pressed, setPressed] = useState(false);
  const send = useAct(broadcasts.press);
  // one id for one press, however often the button is hit or the line breaks: what was not refused may have been done
  const pressId = useRef('');
  const look = useCallback(async () => {
    try {
      const answer = await ask(broadcasts.get, { params: { id } });
      setBroadcast(answer);
      setShown(await ask(broadcasts.plan, { params: { id }, body: { draft: answer.draft, reserve: true } }));
      setError(undefined);
      pressId.current ||= crypto.randomUUID();
    } catch (refused) {
      setError(refused);
    }
  }, [id]);
  useEffect(() => {
    void look();
  }, [look]);
  const linkStates = useLinkCheck(broadcast?.draft ?? NO_LINKS);
  if (!broadcast || !shown)
    return error ? (
      <Pane>
        <Trouble error={error}>
          <Button variant="quiet" onClick={() => void look()}>
            Load it again
          </Button>
        </Trouble>
      </Pane>
    ) : (
      <Waiting what="Counting once more…" />
    );
  const { plan } = shown;
  const { pace, when: start } = broadcast.draft;
  const atOnce = start.kind === 'now';
  const atImport = start.kind === 'import';
  const repeats = start.kind === 'at' ? start.repeats : undefined;
  const own = start.kind === 'at' && start.own === true;
  const press = async () => {
    setPressed(true);
    setError(undefined);
    try {
      const { run_id } = await send({
        params: { id },
        body: { version: broadcast.version, digest: shown.digest, press_id: pressId.current },
      });
      await navigate(run_id === null ? `/broadcasts/${id}` : `/runs/${run_id}`);
    } catch (refused) {
      if (refused instanceof Refused && refused.status >= 400 && refused.status < 500) pressId.current = '';
      setRefusedWith(refused instanceof Refused && refused.status === 409 ? plan : undefined);
      await look();
      setPressed(false);
      setError(refused);
    }
  };
  const left = Object.entries(plan.dropped).filter(([, n]) => n > 0);
  const out = left.reduce((sum, [, n]) => sum + n, 0);
  const span = (first: string, last: string, zone: string) => {
    const a = when(first, zone, now);
    const b = clockTime(last, zone);
    // what goes on the next day says so
    const otherDay = dayOf(first, zone) !== dayOf(last, zone);
    return clockTime(first, zone) === b && !otherDay ? a : otherDay ? `${a} to ${dayOf(last, zone)}, ${b}` : `${a}–${b}`;
  };
  const goes =
    own && start.kind === 'at'
      ? when(iso(localInstant(start.date, start.time, workspace.zone).instant), workspace.zone, now)
      : plan.first
        ? when(plan.first, workspace.zone, now)
        : '';
  return (
    <Pane grow fill pad="16px 0">
      <Slip>
        <Column as="div" gap={8}>
          <Bit soft>Last look</Bit>
          <h1>{broadcast.name || 'No name'}</h1>
          <p>
            From <b>{plan.sender?.name}</b>,{' '}
            {plan.sender?.kind === 'name' ? 'a name that cannot take replies' : `${plan.sender?.address}, which takes replies`},
            to <b>{people(plan.people)}</b>,{' '}
            {atImport ? (
              <b>whenever people have been brought into the list</b>
            ) : atOnce ? (
              <b>now</b>
            ) : (
              <>
                at <b>{goes}</b>
                {own ? ', each at that hour of their own time' : ''}
              </>
            )}
            {plan.last ? (
              <>
                ; the last one goes at <b>{when(plan.last, workspace.zone, now)}</b>
              </>
            ) : (
              ''
            )}
            {pace?.kind === 'a_minute' ? `, ${count(pace.texts)} a minute` : pace ? ', spread evenly' : ''}.{' '}
            {broadcast.draft.purpose === 'service' ? 'Service notice.' : 'Marketing.'}
          </p>
          {start.kind === 'at' && repeats && (
            <p>
              Then again, <b>{repeatWords(repeats, start.date)}</b>: each time counted anew, to whoever is there then
              {repeats.wait === undefined
                ? '.'
                : `; if people or cost differ by more than ${repeats.wait} % from the run before, it waits for you.`}
            </p>
          )}
          {start.kind === 'at' && start.current && (
            <p>
              To whoever is there then, not more than <b>{people(start.current.most)}</b>; with more, only these{' '}
              {count(plan.people)} get it.
            </p>
          )}
          {start.kind === 'now' && start.again && <p>When it has gone, it is a draft again, to be sent whenever you say so.</p>}
          {broadcast.draft.urgent !== undefined && broadcast.draft.purpose === 'service' && (
            <Words as="p" brick>
              It goes at any hour, also at night: <b>{broadcast.draft.urgent}</b>. That stands in the record.
            </Words>
          )}
          {atImport && <p>The figures are those of now; people are counted anew with each import.</p>}
          {plan.samples.map((sample) => (
            <TextBox key={sample.kind} pad="8px 12px">
              <Row between small soft>
                <span>
                  {sample.kind === 'fallback' ? 'other words' : sample.kind}, {people(sample.people)}, {sample.parts}{' '}
                  {sample.parts === 1 ? 'part' : 'parts'}
                  {sample.after ? ` and ${sample.after.parts} for opting out` : ''}
                </span>
                <span>{sample.name || showPhone(sample.number)}</span>
              </Row>
              {sample.text}
              {sample.after && (
                <Words soft above={6}>
                  then, as a text of its own: {sample.after.text}
                </Words>
              )}
            </TextBox>
          ))}
          <Words as="p" small>
            <SinceTest tested={broadcast.tested} draft={broadcast.draft} now={now} />
          </Words>
          {plan.copies && (
            <Words as="p" small>
              A copy of the first goes to {listed(plan.copies.names)} of the desk: {parts(plan.copies.parts)},{' '}
              {money(plan.copies.cost_micro, plan.currency)}, counted in the cost.
            </Words>
          )}
          <Words as="p" small>
            {out > 0 ? (
              <>
                {count(out)} of {count(plan.chosen)} will not get it:{' '}
                {left.map(([reason, n]) => `${count(n)} ${reasonWords(reason as keyof PlanSummary['dropped'])}`).join(', ')}.
              </>
            ) : (
              `Everyone chosen gets it.`
            )}
          </Words>
          {linkRemarks(broadcast.draft, linkStates).map((each) => (
            <Words as="p" small brick={each.sure} plum={!each.sure} key={each.says}>
              {each.says}
            </Words>
          ))}
          {plan.hints
            .filter((hint) => !broadcast.draft.dismissed?.includes(hint.check))
            .map((hint) => (
              <Words as="p" small soft key={hint.message}>
                {hint.message}
              </Words>
            ))}
        </Column>
        <Column as="div" gap={0}>
          <Fact>
            <span>people</span>
            <Bit fig figure="line">
              {count(plan.people)}
            </Bit>
          </Fact>
          <Fact>
            <span>text parts</span>
            <Bit fig figure="line">
              {count(plan.parts)}
            </Bit>
          </Fact>
          <Fact>
            <span>cost</span>
            <Bit fig figure="line">
              {money(plan.cost_micro, plan.currency)}
            </Bit>
          </Fact>
          <Fact>
            <span>balance after</span>
            <Bit fig figure="line">
              {money(plan.balance_micro - plan.cost_micro, plan.currency)}
            </Bit>
          </Fact>
          {plan.codes && (
            <Fact>
              <span>codes of “{plan.codes.name}”</span>
              <Bit fig num>
                {count(plan.codes.needed)}{' '}
                {plan.codes.exact
                  ? 'reserved for ten minutes'
                  : mayDo(account.role, 'send')
                    ? 'needed'
                    : 'needed, reserved when someone who may send looks'}
              </Bit>
            </Fact>
          )}
          {plan.zones.slice(0, ZONES).map((zone) => (
            <Fact key={zone.zone}>
              <span>
                {zoneName(zone.zone)}, {count(zone.people)}
              </span>
              <Bit fig num>
                {span(zone.first, zone.last, zone.zone)}
              </Bit>
            </Fact>
          ))}
          {plan.zones.length > ZONES && (
            <Bit soft small>
              and {plan.zones.length - ZONES} more {plan.zones.length === ZONES + 1 ? 'zone' : 'zones'}
            </Bit>
          )}
          {plan.course && (
            <Words above={14}>
              <PlanPicture plan={plan} also={[]} now={now} compact />
            </Words>
          )}
          <Column grow />
          <Column above={16}>
            {plan.must_fix.map((each) => (
              <Words as="p" brick small key={each.message}>
                {each.message}
              </Words>
            ))}
            <Trouble error={error} />
            {refusedWith && <Different before={refusedWith} after={plan} zone={workspace.zone} now={now} />}
            {mayDo(account.role, 'send') ? (
              <Button variant="go" disabled={pressed || plan.must_fix.length > 0} onClick={() => void press()}>
                {pressed
                  ? 'Asking once more…'
                  : atImport
                    ? 'Send it with each import'
                    : `Send to ${people(plan.people)} ${atOnce ? 'now' : goes ? `at\u00a0${goes}` : ''}`}
              </Button>
            ) : (
              <p>Your role is “{account.role}”: someone who may send has to press here.</p>
            )}
            <Words as="p" soft small centered>
              {atImport
                ? 'Until an import brings people it can be set aside; each run after it can be taken back until it starts.'
                : atOnce
                  ? `While it is written down, and for ${plan.takeback_seconds} seconds after, you can take it back.`
                  : 'Until then you can take it back.'}{' '}
              After that it cannot be called back.
            </Words>
            <Words centered>
              <Button component={Link} to={`/broadcasts/${id}`}>
                Back to the sheet
              </Button>
            </Words>
          </Column>
        </Column>
      </Slip>
    </Pane>
  );
}
