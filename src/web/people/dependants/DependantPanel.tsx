import { Button } from '@mui/material';
import { Fragment, useState } from 'react';
import { dependants, type DependantListed } from '../../../core/api/people/dependants';
import { mayDo } from '../../../core/api/roles';
import { useAct, useGet } from '../../api/client';
import { useLeaving } from '../../api/leaving';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { fieldText } from '../../pieces/format';
import { Bit, Column, Facts, Pane, Row, Words } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { Trouble, Waiting } from '../../pieces/small';
import { AskingWay } from '../../pieces/Sure';
import { TakeAway, Way } from '../../pieces/ways';
import { nameOf, type PersonRow, type Sources } from '../sources';
import { CONTACT_WORDS, DependantForm } from './DependantForm';
import { PersonPicker } from './PersonPicker';

/** One dependant: what is known of them, and who is written to about them, in order. */
export function DependantPanel({
  id,
  sources,
  write,
  close,
}: {
  id: number;
  sources: Sources | undefined;
  write: (ids: number[]) => void;
  close: () => void;
}) {
  const { account } = useDesk();
  const { leaving, leave } = useLeaving();
  const answer = useGet(dependants.get, leaving ? undefined : { params: { id } }, { keep: true });
  const remove = useAct(dependants.remove);
  const { work, error } = useWork();
  const [editing, setEditing] = useState(false);
  const may = mayDo(account.role, 'write');
  const one = answer.data;
  if (!one)
    return (
      <Pane as="aside" card aria-label="A dependant">
        {answer.error ? <Trouble error={answer.error} /> : <Waiting what="Opening…" />}
        <Button onClick={close}>Close</Button>
      </Pane>
    );
  const labels = new Map(
    (sources?.fields ?? []).filter(({ about }) => about === 'dependant').map((field) => [field.slug, field.label]),
  );
  return (
    <Pane as="aside" card aria-label={nameOf(one)}>
      <Column gap={9}>
        <Row between base>
          <h2>{nameOf(one)}</h2>
          <Row as="span">
            {may && <Button onClick={() => setEditing(true)}>Edit</Button>}
            <Button onClick={close} aria-label="Close this dependant">
              Close
            </Button>
          </Row>
        </Row>
        <Facts>
          {Object.entries(one.fields)
            .filter(([, value]) => value !== '')
            .map(([slug, value]) => [labels.get(slug) ?? slug.replaceAll('_', ' '), fieldText(value)] as const)
            .concat(one.born ? [['born', fieldText(one.born)]] : [], one.reference ? [['reference', one.reference]] : [])
            .map(([name, value]) => (
              <Fragment key={name}>
                <dt>{name}</dt>
                <dd>{value}</dd>
              </Fragment>
            ))}
        </Facts>
        <Contacts one={one} may={may} />
        <Trouble error={error} />
        {may && one.contacts.some((each) => !each.must_not_receive) && (
          <Row>
            <Button variant="contained" onClick={() => write([id])}>
              Write about {one.given_name || nameOf(one)}
            </Button>
          </Row>
        )}
        {may && (
          <Row as="p" small>
            <AskingWay
              brick
              says="Delete…"
              title={`Delete ${nameOf(one)}?`}
              act={`Delete ${nameOf(one)}`}
              confirm={() =>
                void work(async () => {
                  await leave(() => remove({ params: { id } }));
                  close();
                })
              }
            >
              Their contacts stay, and are no longer written to about them.
            </AskingWay>
          </Row>
        )}
      </Column>
      {editing && <DependantForm dependant={one} sources={sources} close={() => setEditing(false)} />}
    </Pane>
  );
}

/** Who is written to about them; whoever must not is said in whole words, at their own name. */
function Contacts({ one, may }: { one: DependantListed; may: boolean }) {
  const put = useAct(dependants.putContact);
  const take = useAct(dependants.takeContact);
  const { work, error } = useWork();
  const [adding, setAdding] = useState(false);
  const next = Math.min(9, Math.max(0, ...one.contacts.map(({ contact }) => contact)) + 1);
  const add = (person: PersonRow | null) =>
    person &&
    void work(async () => {
      await put({ params: { id: one.id, person: person.id }, body: { contact: next, must_not_receive: false } });
      setAdding(false);
    });
  return (
    <>
      <Row between base line above={9}>
        <h3>Who is written to</h3>
        {may && (
          <Way small aria-expanded={adding} onClick={() => setAdding(!adding)}>
            add a contact
          </Way>
        )}
      </Row>
      {adding && <PersonPicker label="Another contact" value={null} onChange={add} />}
      <Trouble error={error} />
      {one.contacts.length === 0 && (
        <Words small brick>
          Nobody: what is about them reaches no one.
        </Words>
      )}
      <Column as="ul" gap={7}>
        {one.contacts.map((each) => (
          <li key={each.id}>
            <Row between base>
              <span>
                <Way to={`/people/${each.id}`}>{each.name || 'no name'}</Way> <Bit soft>{showPhone(each.number)}</Bit>
              </span>
              {may && (
                <TakeAway
                  label={`${each.name || 'no name'} is no contact any more`}
                  onClick={() => void work(() => take({ params: { id: one.id, person: each.id } }))}
                />
              )}
            </Row>
            <Words small soft>
              {CONTACT_WORDS[each.contact] ?? `contact ${each.contact}`}
            </Words>
            {each.must_not_receive && (
              <Words small brick>
                {each.name || 'this person'} must not get texts about {nameOf(one)}
              </Words>
            )}
          </li>
        ))}
      </Column>
    </>
  );
}
