import { calledOf } from '../../../core/plan/draft/called';
import type { BroadcastAnswer } from '../../../core/api/sending/broadcasts';
import type { PlanSummary } from '../../../core/api/sending/plan';
import { useAboutWords } from '../audience/AboutLine';
import { leftOutWords } from '../audience/audience-words';
import { repeatWords } from '../../../core/plan/times/repeat-words';
import { useDesk } from '../../api/session';
import { count, listed, money, parts, people, when } from '../../pieces/format';
import { Bit, Column, Row, TextBox, Words } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { linkRemarks, useLinkCheck } from '../words/link-check';
import { ListName } from '../when/ListName';
import { beginsAtOnce } from '../when/at-once';
import { SinceTest } from './SinceTest';

interface Looked {
  broadcast: BroadcastAnswer;
  plan: PlanSummary;
}

/** What goes, in words: from whom, to whom, when, which words, and who will not get it. @param goes when the first goes */
export function LastWords({ broadcast, plan, now, goes }: Looked & { now: number; goes: string }) {
  const { workspace } = useDesk();
  const about = useAboutWords(broadcast.draft.about);
  const { pace, when: start } = broadcast.draft;
  const own = start.kind === 'at' && start.own === true;
  return (
    <Column as="div" gap={8}>
      <Bit soft>Last look</Bit>
      <h1>{calledOf({ name: broadcast.name, words: broadcast.draft.words }) || 'No words yet'}</h1>
      <p>
        From <b>{plan.sender?.name}</b>,{' '}
        {plan.sender?.kind === 'name'
          ? 'a name that cannot take replies'
          : `${showPhone(plan.sender?.address ?? null)}, which takes replies`}
        , to <b>{people(plan.people)}</b>,{' '}
        {start.kind === 'import' ? (
          <b>
            whenever people have been brought into <ListName id={start.list_id} />
          </b>
        ) : beginsAtOnce(broadcast.draft, plan, now) ? (
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
      <Conditions broadcast={broadcast} plan={plan} />
      {about !== '' && (
        <p>
          Where nobody knows for whom people were chosen, the texts are about <b>{about}</b>, and name no other dependants.
        </p>
      )}
      {plan.samples.map((sample) => (
        <Sample key={sample.kind} sample={sample} />
      ))}
      <Remarks broadcast={broadcast} plan={plan} now={now} />
    </Column>
  );
}

/** What it depends on: again and again, whoever is there then, at night, with an import. */
function Conditions({ broadcast, plan }: Looked) {
  const start = broadcast.draft.when;
  const repeats = start.kind === 'at' ? start.repeats : undefined;
  return (
    <>
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
          To whoever is there then, not more than <b>{people(start.current.most)}</b>; with more, only these {count(plan.people)}{' '}
          get it.
        </p>
      )}
      {start.kind === 'now' && start.again && <p>When it has gone, it is a draft again, to be sent whenever you say so.</p>}
      {broadcast.draft.urgent !== undefined && broadcast.draft.purpose === 'service' && (
        <Words as="p" brick>
          It goes at any hour, also at night: <b>{broadcast.draft.urgent}</b>. That stands in the record.
        </Words>
      )}
      {broadcast.draft.show_at_once && (
        <p>
          Phones show it <b>at once</b>, over whatever is on the screen, and most keep nothing of it.
        </p>
      )}
      {start.kind === 'import' && <p>The figures are those of now; people are counted anew with each import.</p>}
    </>
  );
}

/** One person's words as they will go. */
function Sample({ sample }: { sample: PlanSummary['samples'][number] }) {
  return (
    <TextBox pad="8px 12px">
      <Row between small soft>
        <span>
          {sample.kind === 'fallback' ? 'with the fallback' : sample.kind}, {people(sample.people)}, {parts(sample.parts)}
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
  );
}

/** What was tested, who will not get it, links that do not answer, and hints that nobody put aside. */
function Remarks({ broadcast, plan, now }: Looked & { now: number }) {
  const linkStates = useLinkCheck(broadcast.draft);
  const out = Object.values(plan.dropped).reduce((sum, n) => sum + n, 0);
  return (
    <>
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
        {out > 0
          ? `${count(out)} of ${count(plan.chosen)} will not get it: ${leftOutWords(plan.dropped)}.`
          : `Everyone chosen gets it.`}
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
    </>
  );
}
