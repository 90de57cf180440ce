import { Button } from '@mui/material';
import { useState } from 'react';
import type { Condition } from '../../../core/audience/condition';
import { mayDo } from '../../../core/api/roles';
import { people, type DependantRow } from '../../../core/api/people/people';
import { useAct, useGet } from '../../api/client';
import { useLeaving } from '../../api/leaving';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { Trouble, useNow, Waiting } from '../../pieces/small';
import { ConsentPart } from './ConsentPart';
import { ContactOf } from '../dependants/ContactOf';
import { DependantForm } from '../dependants/DependantForm';
import { LastTexts, TextThem } from './LastTexts';
import { PersonFacts } from './PersonFacts';
import { Merge } from './MergePart';
import { PersonForm } from './PersonForm';
import { HistoryPart } from './HistoryPart';
import { WhyPart } from '../rules/WhyPart';
import { nameOf, type Sources } from '../sources';
import { Column, Pane, Row, Words } from '../../pieces/layout';
import { AskingWay } from '../../pieces/Sure';
import { Way } from '../../pieces/ways';

/** Everything known about a person: why in the rule, contacts, consent record, the thread. */
export function PersonPanel({
  id,
  sources,
  rule,
  close,
}: {
  id: number;
  sources: Sources | undefined;
  rule: Condition | undefined;
  close: () => void;
}) {
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const { leaving, leave } = useLeaving();
  const answer = useGet(people.get, leaving ? undefined : { params: { id } }, { keep: true });
  const erase = useAct(people.erase);
  const { work, error, busy } = useWork();
  const [editing, setEditing] = useState(false);
  const [dependant, setDependant] = useState<DependantRow | 'new'>();
  const [merging, setMerging] = useState(false);
  if (answer.error)
    return (
      <Pane as="aside" card>
        <Trouble error={answer.error} />
        <Button onClick={close}>Close</Button>
      </Pane>
    );
  if (!answer.data)
    return (
      <Pane as="aside" card>
        <Waiting what="Opening…" />
      </Pane>
    );
  const { person, consent, texts, dependants, suppressed } = answer.data;
  const act = async (what: () => Promise<unknown>) => {
    await work(what);
  };
  const may = mayDo(account.role, 'write');
  return (
    <Pane as="aside" card aria-label={nameOf(person)}>
      <Column gap={9}>
        <Row between base>
          <h1>{nameOf(person)}</h1>
          <Row as="span">
            {may && <Button onClick={() => setEditing(true)}>Edit</Button>}
            <Button onClick={close} aria-label="Close this person">
              Close
            </Button>
          </Row>
        </Row>
        <PersonFacts known={answer.data} sources={sources} may={may} now={now} act={act} />
        {rule && <WhyPart rule={rule} id={id} />}
        <ContactOf person={person} dependants={dependants} may={may} open={setDependant} />
        <ConsentPart
          id={id}
          number={person.number}
          events={consent}
          may={may}
          optedOut={suppressed !== null}
          zone={workspace.zone}
          act={act}
        />
        <HistoryPart id={id} />
        <Words as="h2" line above={9}>
          Texts
        </Words>
        <LastTexts texts={texts} now={now} />
        <Trouble error={error} />
        <TextThem person={person} busy={busy} act={act} />
        <Row as="p" small gap={14}>
          {may && (
            <Way aria-expanded={merging} onClick={() => setMerging(!merging)}>
              Merge with another…
            </Way>
          )}
          {mayDo(account.role, 'manage') && (
            <AskingWay
              brick
              says="Erase this person…"
              title={`Erase ${nameOf(person)}?`}
              act={`Erase ${nameOf(person)}`}
              confirm={() =>
                void work(async () => {
                  await leave(() => erase({ params: { id } }));
                  close();
                })
              }
            >
              Everything known about them goes and cannot be called back; a number that opted out stays in the register.
            </AskingWay>
          )}
        </Row>
        {merging && <Merge id={id} name={nameOf(person)} done={() => setMerging(false)} act={act} />}
        {editing && <PersonForm person={person} sources={sources} close={() => setEditing(false)} />}
        {dependant && (
          <DependantForm
            personId={id}
            dependant={dependant === 'new' ? undefined : dependant}
            sources={sources}
            close={() => setDependant(undefined)}
          />
        )}
      </Column>
    </Pane>
  );
}
