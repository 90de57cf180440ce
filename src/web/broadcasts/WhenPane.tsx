import type { PlanSummary } from '../../core/api/plan';
import type { Draft } from '../../core/plan/draft';
import { useDesk } from '../api/session';
import { clockTime, count, when, zoneName } from '../pieces/format';
import { Choose, useNow } from '../pieces/small';

/** Wall-clock fields of an instant in a zone, for the date and time inputs. */
function wallFields(at: number, zone: string): { date: string; time: string } {
  const parts = new Intl.DateTimeFormat('sv-SE', {
    timeZone: zone,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
  }).format(new Date(at));
  return { date: parts.slice(0, 10), time: parts.slice(11, 16) };
}

/** Now, or at a date and time in the workspace's zone; until when it is of use; from whom; and the plan, zone by zone. */
export function WhenPane({
  draft,
  plan,
  senders,
  change,
}: {
  draft: Draft;
  plan: PlanSummary | undefined;
  senders: { id: number; name: string; kind: string; address: string }[];
  change: (part: Partial<Draft>) => void;
}) {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const zone = workspace.zone;
  const start = () => ({ kind: 'at' as const, ...wallFields(Math.ceil((now + 20 * 60_000) / 1_800_000) * 1_800_000, zone) });
  const at = draft.when.kind === 'at' ? draft.when : undefined;
  const late = draft.no_use_after;
  const wrong = plan?.must_fix.find((each) => each.place === 'when')?.message;
  return (
    <div className="stack" style={{ gap: 10 }}>
      <h2>When</h2>
      <label className="plain">
        <input type="radio" name="when" checked={draft.when.kind === 'now'} onChange={() => change({ when: { kind: 'now' } })} />{' '}
        Now
      </label>
      <label className="plain">
        <input type="radio" name="when" checked={draft.when.kind === 'at'} onChange={() => change({ when: start() })} /> At a time
      </label>
      {at && (
        <div className="stack" style={{ paddingLeft: 0, gap: 5 }}>
          <div className="row nowrap">
            <input
              className="field small"
              type="date"
              aria-label="Date"
              aria-invalid={wrong !== undefined}
              value={at.date}
              onChange={(event) => event.target.value && change({ when: { ...at, date: event.target.value } })}
              style={{ width: 122, padding: '3px 6px' }}
            />
            <input
              className="field small"
              type="time"
              aria-label="Time"
              aria-invalid={wrong !== undefined}
              value={at.time}
              onChange={(event) => event.target.value && change({ when: { ...at, time: event.target.value } })}
              style={{ width: 112, padding: '3px 6px' }}
            />
          </div>
          <span className="soft small">our zone, {zoneName(zone)}</span>
        </div>
      )}
      {wrong && (
        <p className="brick small" role="alert">
          {wrong}
        </p>
      )}
      <dl className="facts line" style={{ paddingTop: 12, gridTemplateColumns: '88px minmax(0, 1fr)', rowGap: 9 }}>
        <dt>Quiet hours</dt>
        <dd>
          {clockTime(`2026-01-01T${workspace.quiet_from}:00Z`, 'UTC')} to{' '}
          {clockTime(`2026-01-01T${workspace.quiet_to}:00Z`, 'UTC')}
        </dd>
        <dt>No use after</dt>
        <dd>
          {late ? (
            <span className="stack" style={{ gap: 4 }}>
              <span className="row nowrap">
                <input
                  className="field small"
                  type="date"
                  aria-label="No use after, date"
                  value={late.date}
                  onChange={(event) => event.target.value && change({ no_use_after: { ...late, date: event.target.value } })}
                  style={{ width: 138, padding: '3px 6px' }}
                />
              </span>
              <span className="row nowrap">
                <input
                  className="field small"
                  type="time"
                  aria-label="No use after, time"
                  value={late.time}
                  onChange={(event) => event.target.value && change({ no_use_after: { ...late, time: event.target.value } })}
                  style={{ width: 112, padding: '3px 6px' }}
                />
                <button
                  type="button"
                  className="way small"
                  onClick={() => change({ no_use_after: null })}
                  style={{ whiteSpace: 'nowrap' }}
                >
                  a day
                </button>
              </span>
            </span>
          ) : (
            <button
              type="button"
              className="value"
              onClick={() =>
                change({
                  no_use_after: wallFields(plan?.first ? Date.parse(plan.first) + 4 * 3_600_000 : now + 4 * 3_600_000, zone),
                })
              }
            >
              a day later
            </button>
          )}
        </dd>
        <dt>From</dt>
        <dd>
          <Choose
            label="From"
            value={String(draft.sender_id ?? '')}
            options={[
              ...(draft.sender_id === null ? [['', 'choose'] as const] : []),
              ...senders.map(
                (each) =>
                  [String(each.id), each.kind === 'name' ? `${each.name}, no replies` : `${each.name}, ${each.address}`] as const,
              ),
            ]}
            onChange={(id) => change({ sender_id: id === '' ? null : Number(id) })}
          />
        </dd>
      </dl>
      {plan && plan.people > 0 && (
        <div className="line stack" style={{ paddingTop: 10, gap: 4 }}>
          <h3>The plan</h3>
          <table>
            <thead>
              <tr>
                <th scope="col" style={{ background: 'var(--ground)' }}>
                  zone
                </th>
                <th scope="col" className="num">
                  people
                </th>
                <th scope="col" className="num" style={{ paddingRight: 0 }}>
                  their time
                </th>
              </tr>
            </thead>
            <tbody>
              {plan.zones.slice(0, 7).map((each) => (
                <tr key={each.zone}>
                  <td>
                    {zoneName(each.zone)}
                    {each.guessed > 0 && (
                      <span className="soft small" title={`${each.guessed} guessed from the number`}>
                        {' '}
                        {each.guessed === each.people ? 'guessed' : `${count(each.guessed)} guessed`}
                      </span>
                    )}
                  </td>
                  <td className="num">{count(each.people)}</td>
                  <td className="num" style={{ paddingRight: 0, whiteSpace: 'nowrap' }}>
                    {when(each.first, each.zone, now)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {plan.zones.length > 7 && <span className="soft small">and {plan.zones.length - 7} more zones</span>}
          {plan.last && <span className="small">The last one goes at {when(plan.last, zone, now)}.</span>}
        </div>
      )}
    </div>
  );
}
