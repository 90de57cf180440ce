import { Button } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { PlanSummary } from '../../core/api/plan';
import { DROP_WORDS } from '../../core/plan/reach';
import { mayDo } from '../../core/api/roles';
import { get, send } from '../api/client';
import { useDesk } from '../api/session';
import { clockTime, count, dayOf, money, people, when, zoneName } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Trouble, useNow, useTitle, Waiting } from '../pieces/small';
import type { BroadcastAnswer } from './draft-state';

/** The final summary before the irreversible act. What stands here is what then happens. */
export default function LastLook() {
  useTitle('Last look');
  const id = Number(useParams().id);
  const navigate = useNavigate();
  const client = useQueryClient();
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 10_000);
  const [broadcast, setBroadcast] = useState<BroadcastAnswer>();
  const [shown, setShown] = useState<{ plan: PlanSummary; digest: string }>();
  const [error, setError] = useState<unknown>();
  const [pressed, setPressed] = useState(false);
  // one id for one press, however often the button is hit or the line breaks
  const pressId = useRef<string>(undefined);
  const look = useCallback(async () => {
    try {
      const answer = await get<BroadcastAnswer>(`/api/broadcasts/${id}`);
      setBroadcast(answer);
      setShown(await send<{ plan: PlanSummary; digest: string }>('POST', `/api/broadcasts/${id}/plan`, { draft: answer.draft }));
      pressId.current = crypto.randomUUID();
    } catch (refused) {
      setError(refused);
    }
  }, [id]);
  useEffect(() => {
    void look();
  }, [look]);
  if (!broadcast || !shown)
    return error ? (
      <div className="pane">
        <Trouble error={error} />
      </div>
    ) : (
      <Waiting what="Counting once more…" />
    );
  const { plan } = shown;
  const atOnce = broadcast.draft.when.kind === 'now';
  const press = async () => {
    setPressed(true);
    setError(undefined);
    try {
      const { run_id } = await send<{ run_id: number }>('POST', `/api/broadcasts/${id}/press`, {
        version: broadcast.version,
        digest: shown.digest,
        press_id: pressId.current,
      });
      await client.invalidateQueries();
      await navigate(`/runs/${run_id}`);
    } catch (refused) {
      setPressed(false);
      await look();
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
  return (
    <div className="pane" style={{ flex: 1, display: 'flex', padding: '16px 0' }}>
      <div className="slip">
        <div className="stack" style={{ gap: 8 }}>
          <span className="soft">Last look</span>
          <h1>{broadcast.name || 'No name'}</h1>
          <p style={{ fontSize: 16.5 }}>
            From <b>{plan.sender?.name}</b>,{' '}
            {plan.sender?.kind === 'name' ? 'a name that cannot take replies' : `${plan.sender?.address}, which takes replies`},
            to <b>{people(plan.people)}</b>,{' '}
            {atOnce ? (
              <b>now</b>
            ) : (
              <>
                at <b>{plan.first ? when(plan.first, workspace.zone, now) : ''}</b>
              </>
            )}
            {plan.last ? (
              <>
                ; the last one goes at <b>{when(plan.last, workspace.zone, now)}</b>
              </>
            ) : (
              ''
            )}
            . {broadcast.draft.purpose === 'service' ? 'Service notice.' : 'Marketing.'}
          </p>
          {plan.samples.map((sample) => (
            <div key={sample.kind} className="text" style={{ padding: '8px 12px' }}>
              <div className="row between small soft">
                <span>
                  {sample.kind === 'fallback' ? 'other words' : sample.kind}, {people(sample.people)}, {sample.parts}{' '}
                  {sample.parts === 1 ? 'part' : 'parts'}
                </span>
                <span>{sample.name || showPhone(sample.number)}</span>
              </div>
              {sample.text}
            </div>
          ))}
          <p className="small">
            {out > 0 ? (
              <>
                {count(out)} of {count(plan.chosen)} will not get it:{' '}
                {left
                  .map(
                    ([reason, n]) =>
                      `${count(n)} ${reason === 'too_late' ? 'no allowed hour in time' : DROP_WORDS[reason as keyof typeof DROP_WORDS]}`,
                  )
                  .join(', ')}
                .
              </>
            ) : (
              `Everyone chosen gets it.`
            )}
          </p>
          {plan.hints.map((hint) => (
            <p key={hint.message} className="small soft">
              {hint.message}
            </p>
          ))}
        </div>
        <div className="stack" style={{ gap: 0 }}>
          <div className="fact" style={{ borderTop: 0 }}>
            <span>people</span>
            <span className="fig">{count(plan.people)}</span>
          </div>
          <div className="fact">
            <span>text parts</span>
            <span className="fig">{count(plan.parts)}</span>
          </div>
          <div className="fact">
            <span>cost</span>
            <span className="fig">{money(plan.cost_micro, plan.currency)}</span>
          </div>
          <div className="fact">
            <span>balance after</span>
            <span className="fig">{money(plan.balance_micro - plan.cost_micro, plan.currency)}</span>
          </div>
          {plan.zones.slice(0, 5).map((zone) => (
            <div className="fact" key={zone.zone}>
              <span>
                {zoneName(zone.zone)}, {count(zone.people)}
              </span>
              <span
                className="fig"
                style={{ fontSize: span(zone.first, zone.last, zone.zone).length > 20 ? 15 : 17, textAlign: 'right' }}
              >
                {span(zone.first, zone.last, zone.zone)}
              </span>
            </div>
          ))}
          {plan.zones.length > 5 && (
            <span className="soft small">
              and {plan.zones.length - 5} more {plan.zones.length === 6 ? 'zone' : 'zones'}
            </span>
          )}
          <div style={{ marginTop: 'auto', paddingTop: 16 }} className="stack">
            {plan.must_fix.map((each) => (
              <p key={each.message} className="brick small">
                {each.message}
              </p>
            ))}
            <Trouble error={error} />
            {mayDo(account.role, 'send') ? (
              <button type="button" className="go" disabled={pressed || plan.must_fix.length > 0} onClick={() => void press()}>
                {pressed
                  ? 'Asking once more…'
                  : `Send to ${people(plan.people)} ${atOnce ? 'now' : plan.first ? `at\u00a0${when(plan.first, workspace.zone, now)}` : ''}`}
              </button>
            ) : (
              <p>Your role is “{account.role}”: someone who may send has to press here.</p>
            )}
            <p className="soft small" style={{ textAlign: 'center' }}>
              {atOnce
                ? `While it is written down, and for ${plan.takeback_seconds} seconds after, you can take it back.`
                : 'Until then you can take it back.'}{' '}
              After that it cannot be called back.
            </p>
            <div style={{ textAlign: 'center' }}>
              <Button component={Link} to={`/broadcasts/${id}`}>
                Back to the sheet
              </Button>
            </div>
          </div>
        </div>
      </div>
    </div>
  );
}
