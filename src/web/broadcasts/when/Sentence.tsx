import { useKeptPress } from '../../pieces/kept-press';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Sources } from '../../../core/api/people/people';
import type { Draft } from '../../../core/plan/draft/draft';
import type { Repeats } from '../../../core/plan/times/repeats';
import { Allowed } from '../sheet/Allowed';
import { Pace } from '../sheet/Pace';
import { useDesk } from '../../api/session';
import { Choose, TypedValue } from '../../pieces/form/choices';
import { DateField, TimeField } from '../../pieces/form/dates';
import { people, zoneName } from '../../pieces/format';
import { Row } from '../../pieces/layout';
import { Way } from '../../pieces/ways';
import { End, Often, Wait } from './RepeatValues';

type At = Extract<Draft['when'], { kind: 'at' }>;

/** Said as one goes along: values stand in the sentence that they are part of. */
const Said = styled('div')({
  fontSize: 17,
  lineHeight: 2,
  display: 'flex',
  flexWrap: 'wrap',
  alignItems: 'baseline',
  columnGap: 6,
});

/** When it goes, in one sentence of values. */
export function Sentence({
  draft,
  plan,
  sources,
  change,
}: {
  draft: Draft;
  plan: PlanSummary | undefined;
  sources: Sources | undefined;
  change: (part: Partial<Draft>) => void;
}): ReactNode {
  const { workspace } = useDesk();
  const { when } = draft;
  const set = (part: Partial<At>) => when.kind === 'at' && change({ when: { ...when, ...part } });
  return (
    <>
      <Said role="group" aria-label="When it goes">
        {when.kind === 'import' && (
          <>
            Whenever people have been brought into
            <Choose
              label="Which list"
              value={String(when.list_id)}
              options={[
                ...(sources?.lists.some((list) => list.id === when.list_id)
                  ? []
                  : [[String(when.list_id), 'choose a list'] as const]),
                ...(sources?.lists ?? []).map((list) => [String(list.id), list.name] as const),
              ]}
              onChange={(id) => change({ when: { ...when, list_id: Number(id) } })}
            />
            it goes at once to everyone who is chosen.{' '}
            <Wait wait={when.wait} set={(wait) => change({ when: { ...when, wait } })} />
          </>
        )}
        {when.kind === 'now' &&
          (when.again
            ? 'Now, and again whenever somebody says so: when it has gone, it is a draft again, with its words and its people.'
            : 'As soon as it is agreed to.')}
        {when.kind === 'at' && (
          <>
            {when.repeats && <Often repeats={when.repeats} first={when.date} set={(repeats) => set({ repeats })} />}
            {when.repeats ? 'at' : 'On'}
            {!when.repeats && (
              <DateField inLine withDay label="Date" value={when.date} onChange={(date) => date !== '' && set({ date })} />
            )}
            {!when.repeats && 'at'}
            <TimeField inLine label="Time" value={when.time} onChange={(time) => set({ time })} />
            <Choose
              label="Whose clock"
              value={when.own ? 'own' : 'ours'}
              options={[
                ['ours', `our time, ${zoneName(workspace.zone)}`],
                ['own', 'each in their own time'],
              ]}
              onChange={(whose) => set({ own: whose === 'own' ? true : undefined })}
            />
            {when.repeats && (
              <>
                from
                <DateField
                  inLine
                  withDay
                  label="Beginning on"
                  value={when.date}
                  onChange={(date) => date !== '' && set({ date })}
                />
                <End repeats={when.repeats} first={when.date} set={(repeats) => set({ repeats })} />
                <Wait wait={when.repeats.wait} set={(wait) => set({ repeats: { ...(when.repeats as Repeats), wait } })} />
              </>
            )}
            {!when.repeats && <Who at={when} plan={plan} set={set} />}
          </>
        )}
      </Said>
      <Row small gap={20} starts>
        <Row gap={6} base>
          Only at
          <Allowed draft={draft} change={change} />
        </Row>
        <Row gap={6} base>
          Pace:
          <Pace draft={draft} plan={plan} change={change} />
        </Row>
      </Row>
    </>
  );
}

/** As of now, or whoever is there when it goes, up to so many. */
function Who({ at, plan, set }: { at: At; plan: PlanSummary | undefined; set: (part: Partial<At>) => void }): ReactNode {
  const most = Math.max(1, Math.ceil((plan?.people ?? 1) * 1.1));
  // the ceiling begins with how many there are: chosen before that is counted, it is set when it is
  const current = useKeptPress({ counted: plan !== undefined, stands: '', act: () => set({ current: { most } }) });
  return (
    <>
      to
      <Choose
        label="Who is meant"
        value={at.current || current.kept ? 'current' : 'now'}
        options={[
          ['now', plan ? `the ${people(plan.people)} of now` : 'those of now'],
          ['current', 'whoever is there then'],
        ]}
        onChange={(next) => (next === 'current' ? current.press() : set({ current: undefined }))}
      />
      {at.current && (
        <>
          but not more than
          <TypedValue
            label="At most so many people"
            type="number"
            value={at.current.most}
            input={{ min: 1 }}
            onChange={(typed) => {
              const next = Math.round(Number(typed));
              if (next >= 1) set({ current: { most: next } });
            }}
          />
          ; with more, only those of now get it.
        </>
      )}
      {at.current && plan && at.current.most < plan.people && (
        <Way small onClick={() => set({ current: { most } })}>
          that is fewer than now: take {most.toLocaleString('en-US')}
        </Way>
      )}
    </>
  );
}
