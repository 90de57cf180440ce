import { useState } from 'react';
import { useNavigate } from 'react-router';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { people as peopleApi, type BulkAct } from '../../../core/api/people/people';
import { mayDo } from '../../../core/api/roles';
import type { RunAnswer } from '../../../core/api/sending/runs';
import type { RunOutcome } from '../../../core/outcome/outcomes';
import { codeOf } from '../../../core/outcome/reason-codes';
import { adviceFor, NEEDS_NUMBER } from '../../../core/outcome/reasons';
import { useAct } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { count, people } from '../../pieces/format';
import { Column, Row, Words } from '../../pieces/layout';
import { useSay } from '../../pieces/Said';
import { Sure } from '../../pieces/Sure';
import { Trouble } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import type { RunFilter } from './run-words';

/** Which outcome a state belongs to, where something can be done about it. */
const OUTCOME: Readonly<Record<string, RunOutcome>> = {
  not_delivered: 'not_delivered',
  expired: 'not_delivered',
  uncertain: 'uncertain',
  not_sent: 'not_sent',
};

/** Why not everyone got it, reason by reason, each with what it means and the sensible next acts. */
export function RunReasons({
  answer,
  title,
  reasons,
  see,
}: {
  answer: RunAnswer;
  title: string;
  reasons: RunAnswer['reasons'];
  see: (filter: RunFilter) => void;
}) {
  return (
    <section aria-label={title}>
      <Words as="h2" under below={6}>
        {title}
      </Words>
      {reasons.map((each) => (
        <Reason answer={answer} reason={each} see={see} key={each.state + each.reason} />
      ))}
      {reasons.length === 0 && (
        <Words soft small above={6}>
          {answer.run.ended_at !== null ? 'Nobody.' : 'Nobody so far.'}
        </Words>
      )}
    </section>
  );
}

function Reason({
  answer,
  reason: { state, reason, n },
  see,
}: {
  answer: RunAnswer;
  reason: RunAnswer['reasons'][number];
  see: (filter: RunFilter) => void;
}) {
  const { run, lists } = answer;
  const { account } = useDesk();
  const navigate = useNavigate();
  const say = useSay();
  const make = useAct(broadcasts.make);
  const change = useAct(peopleApi.bulk);
  const undo = useAct(peopleApi.undoBulk);
  const { work, busy, error } = useWork();
  const [asking, setAsking] = useState(false);
  const { says, acts } = adviceFor(state, reason);
  const code = codeOf(reason);
  const outcome = OUTCOME[state];
  const may = mayDo(account.role, 'write') && outcome !== undefined;
  const again = (better_hour?: true) =>
    void work(async () => {
      const { id } = await make({ body: { name: '', follow: { run_id: run.id, outcome, reason, again: true, better_hour } } });
      await navigate(`/broadcasts/${id}`);
    });
  const those = { run: String(run.id), outcome: outcome ?? '', reason };
  const all = (act: BulkAct, what: string) =>
    void work(async () => {
      const done = await change({ body: { filter: those, act, what: `${what} (${reason})` } });
      say(`${what}: ${people(done.people)}.`, () => void work(() => undo({ params: { id: done.id } })));
    });
  return (
    <Column under pad="7px 0" gap={4}>
      <Row between nowrap base>
        <span>
          <b>{count(n)}</b> {reason}
        </span>
        <Way small nobreak onClick={() => see({ state, reason })}>
          see {count(n)}
        </Way>
      </Row>
      {says !== '' && (
        <Words soft small>
          {says}
          {code !== '' && ` The carrier’s code: ${code}.`}
        </Words>
      )}
      {may && acts.length > 0 && (
        <Row small gap={10}>
          {acts.includes('again') && (
            <Way small onClick={() => again()}>
              write to them again
            </Way>
          )}
          {acts.includes('later') && (
            <Way small onClick={() => again(true)}>
              at a better hour
            </Way>
          )}
          {acts.includes('twice') && (
            <Way small onClick={() => setAsking(true)}>
              send it again, may arrive twice
            </Way>
          )}
          {acts.includes('mark') && (
            <Way small onClick={() => all({ kind: 'tag', name: NEEDS_NUMBER }, `tagged “${NEEDS_NUMBER}”`)}>
              tag “{NEEDS_NUMBER}”
            </Way>
          )}
          {acts.includes('off_list') &&
            lists.map((list) => (
              <Way small key={list.id} onClick={() => all({ kind: 'take_off', id: list.id }, `taken off “${list.name}”`)}>
                take off “{list.name}”
              </Way>
            ))}
          <Way small to={`/people?${new URLSearchParams(those).toString()}`}>
            open them in People
          </Way>
        </Row>
      )}
      {busy && (
        <Words soft small role="status">
          working…
        </Words>
      )}
      <Trouble error={error} />
      {asking && (
        <Sure title={`Write again to ${people(n)}?`} act="Write it again" leave={() => setAsking(false)} confirm={() => again()}>
          Whether they have it is not known. Whoever has it gets it twice. A draft to them opens; nothing goes before its last
          look.
        </Sure>
      )}
    </Column>
  );
}
