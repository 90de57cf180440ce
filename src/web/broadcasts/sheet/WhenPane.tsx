import type { PlanSummary } from '../../../core/api/sending/plan';
import type { BroadcastAnswer } from '../../../core/api/sending/broadcasts';
import type { Draft } from '../../../core/plan/draft/draft';
import { showPhone } from '../../pieces/phone';
import { repeatWords } from '../../../core/plan/times/repeat-words';
import { usefulDays } from '../../../core/plan/times/when';
import { localInstant, wallClock } from '../../../core/zones';
import { useDesk } from '../../api/session';
import { Choose, OneOfThese } from '../../pieces/form/choices';
import { DataTable, type Column as TableColumn } from '../../pieces/table/DataTable';
import { DateField, TimeField } from '../../pieces/form/dates';
import { count, dayOf, people, wallTime, when, zoneName } from '../../pieces/format';
import { Bit, Column, Facts, Row, Words } from '../../pieces/layout';
import { useNow } from '../../pieces/small';
import { Value, Way } from '../../pieces/ways';
import { wayTo } from '../../setup/for-others';
import { heading } from '../../people/for-others';
import { keepChosen } from '../when/chosen-before';
import { kindOf, whenOf } from '../when/kinds';
import { Allowed } from './Allowed';
import { Pace } from './Pace';
import { Urgent } from './Urgent';

type Zone = PlanSummary['zones'][number];
const ZONES = 7;
const SHORT_KINDS = [
  ['now', 'Now'],
  ['once', 'At a time'],
  ['again', 'Again and again'],
  ['say', 'Whenever I say'],
  ['import', 'With each import'],
] as const;

/** Now, or at a date and time in the workspace's zone; until when it is of use; from whom; and the plan, zone by zone. */
export function WhenPane({
  id,
  draft,
  plan,
  senders,
  change,
}: {
  id: number;
  draft: Draft;
  plan: PlanSummary | undefined;
  senders: BroadcastAnswer['senders'];
  change: (part: Partial<Draft>) => void;
}) {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const zone = workspace.zone;
  const at = draft.when.kind === 'at' ? draft.when : undefined;
  const wrong = plan?.must_fix.find((each) => each.place === 'when');
  // the end of use is put right by itself; only the start is offered anew
  const instead = at ? wrong?.instead : undefined;
  return (
    <Column gap={10}>
      <Row between base>
        <h2>When</h2>
        <Way small to={`/broadcasts/${id}/when`}>
          as a page, with dates
        </Way>
      </Row>
      <OneOfThese
        label="When"
        value={kindOf(draft)}
        options={SHORT_KINDS.filter(([kind]) => kind === 'now' || kind === 'once' || kind === 'again' || kind === kindOf(draft))}
        onChange={(kind) => change({ when: whenOf(kind, draft, now, zone, keepChosen(id, draft)) })}
      />
      {at?.repeats && (
        <Words small>
          {heading(repeatWords(at.repeats, at.date))}, beginning {dayOf(`${at.date}T12:00:00Z`, 'UTC')}.{' '}
          <Way small to={`/broadcasts/${id}/when`}>
            change how often
          </Way>
        </Words>
      )}
      {draft.when.kind === 'import' && (
        <Words small>
          <Way small to={`/broadcasts/${id}/when`}>
            which list
          </Way>
        </Words>
      )}
      {at && <AtTime at={at} now={now} zone={zone} wrong={wrong} change={change} />}
      {wrong && (
        <Words as="p" brick small role="alert">
          {wrong.message}
          {instead && (
            <>
              {' '}
              <Way onClick={() => change({ when: { ...at, kind: 'at', ...instead } })}>
                take {when(new Date(localInstant(instead.date, instead.time, zone).instant).toISOString(), zone, now)}
                {at?.own ? ', their time' : ''}
              </Way>
            </>
          )}
        </Words>
      )}
      <Terms draft={draft} change={change} plan={plan} now={now} senders={senders} />
      {plan && plan.people > 0 && <ZoneByZone plan={plan} zone={zone} now={now} />}
    </Column>
  );
}

/** The date, the time, and on whose clock. */
function AtTime({
  at,
  now,
  zone,
  wrong,
  change,
}: {
  at: Extract<Draft['when'], { kind: 'at' }>;
  now: number;
  zone: string;
  wrong: PlanSummary['must_fix'][number] | undefined;
  change: (part: Partial<Draft>) => void;
}) {
  return (
    <Column gap={12} above={6}>
      <DateField
        label="Date"
        value={at.date}
        least={wallClock(now, zone).date}
        error={wrong !== undefined}
        onChange={(date) => date !== '' && change({ when: { ...at, date } })}
      />
      <TimeField
        label="Time"
        value={at.time}
        error={wrong !== undefined}
        onChange={(time) => change({ when: { ...at, time } })}
      />
      <Choose
        small
        label="Whose clock"
        value={at.own ? 'own' : 'ours'}
        options={[
          ['ours', `our zone, ${zoneName(zone)}`],
          ['own', 'each person’s own time'],
        ]}
        onChange={(whose) => change({ when: { ...at, own: whose === 'own' ? true : undefined } })}
      />
    </Column>
  );
}

/** What slows it or ends it, and from whom it is. */
function Terms({
  draft,
  change,
  plan,
  now,
  senders,
}: {
  draft: Draft;
  change: (part: Partial<Draft>) => void;
  plan: PlanSummary | undefined;
  now: number;
  senders: BroadcastAnswer['senders'];
}) {
  const { workspace } = useDesk();
  const late = draft.no_use_after;
  const fields = (instant: number) => {
    const { date, time } = wallClock(instant, workspace.zone);
    return { date, time: time.slice(0, 5) };
  };
  return (
    <Facts line above={12}>
      <dt>Quiet hours</dt>
      <dd>
        {wallTime(workspace.quiet_from)} to {wallTime(workspace.quiet_to)}
        <Urgent draft={draft} change={change} />
      </dd>
      <dt>And only</dt>
      <dd>
        <Allowed draft={draft} change={change} />
      </dd>
      <dt>Pace</dt>
      <dd>
        <Pace draft={draft} plan={plan} change={change} />
      </dd>
      <dt>No use after</dt>
      <dd>
        {late ? (
          <Row gap={4}>
            <DateField
              inLine
              label="No use after, date"
              value={late.date}
              onChange={(date) => date !== '' && change({ no_use_after: { ...late, date } })}
            />
            <TimeField
              inLine
              label="No use after, time"
              value={late.time}
              onChange={(time) => change({ no_use_after: { ...late, time } })}
            />
            <Way small onClick={() => change({ no_use_after: null })}>
              {usefulDays(draft) === 1 ? 'a day' : `${usefulDays(draft)} days`} later instead
            </Way>
          </Row>
        ) : (
          <Value onClick={() => change({ no_use_after: fields((plan?.first ? Date.parse(plan.first) : now) + 4 * 3_600_000) })}>
            {usefulDays(draft) === 1 ? 'a day later' : `${usefulDays(draft)} days later`}
          </Value>
        )}
      </dd>
      <dt>Phones</dt>
      <dd>
        <Choose
          label="How phones show it"
          value={draft.show_at_once ? 'at_once' : 'kept'}
          options={[
            ['kept', 'keep it'],
            ['at_once', 'show it at once'],
          ]}
          onChange={(how) => change({ show_at_once: how === 'at_once' ? true : undefined })}
        />
      </dd>
      <dt>From</dt>
      <dd>
        {senders.length === 0 ? (
          <>
            no sender yet: <Way to={wayTo('senders')}>add one</Way>
          </>
        ) : (
          <Choose
            label="From"
            value={String(draft.sender_id ?? '')}
            options={[
              ...(draft.sender_id === null ? [['', 'choose'] as const] : []),
              ...senders.map(
                (each) =>
                  [
                    String(each.id),
                    each.kind === 'name' ? `${each.name}, no replies` : `${each.name}, ${showPhone(each.address)}`,
                  ] as const,
              ),
            ]}
            onChange={(id) => change({ sender_id: id === '' ? null : Number(id) })}
          />
        )}
      </dd>
    </Facts>
  );
}

/** When it reaches whom, zone by zone. */
function ZoneByZone({ plan, zone, now }: { plan: PlanSummary; zone: string; now: number }) {
  const guessed = plan.zones.reduce((sum, each) => sum + each.guessed, 0);
  const columns: TableColumn<Zone>[] = [
    {
      key: 'zone',
      heading: 'zone',
      cell: (each) => zoneName(each.zone),
    },
    { key: 'people', heading: 'people', num: true, cell: (each) => count(each.people) },
    { key: 'time', heading: 'their time', num: true, nobreak: true, cell: (each) => when(each.first, each.zone, now) },
  ];
  return (
    <Column line above={10} gap={4}>
      <h3>The plan</h3>
      <DataTable
        tight
        label="The plan, zone by zone"
        columns={columns}
        rows={plan.zones.slice(0, ZONES)}
        idOf={(each) => each.zone}
      />
      {plan.zones.length > ZONES && (
        <Bit soft small>
          and {plan.zones.length - ZONES} more zones
        </Bit>
      )}
      {plan.last && <Bit small>The last one goes at {when(plan.last, zone, now)}.</Bit>}
      {guessed > 0 && (
        <Bit soft small>
          For {people(guessed)} the zone is guessed from the number; only hours that are allowed in every zone it may be count.
        </Bit>
      )}
    </Column>
  );
}
