import type { KnownPerson } from '../../../core/api/people/people';
import { Button } from '@mui/material';
import { useState } from 'react';
import type { Condition } from '../../../core/audience/condition';
import { mayDo } from '../../../core/api/roles';
import { groups } from '../../../core/api/people/groups';
import { people, type DependantRow } from '../../../core/api/people/people';
import { useAct, useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { Choose } from '../../pieces/form/choices';
import { Field } from '../../pieces/form/Field';
import { clockTime, fieldText, languageName, wallTime, when, zoneName } from '../../pieces/format';
import { showPhone } from '../../pieces/phone';
import { Trouble, useNow, Waiting } from '../../pieces/small';
import { ConsentPart } from './ConsentPart';
import { CONTACT_WORDS, DependantForm } from './DependantForm';
import { Merge } from './MergePart';
import { PersonForm } from './PersonForm';
import { HistoryPart } from './HistoryPart';
import { WhyPart } from '../rules/WhyPart';
import { nameOf, type Sources } from '../sources';
import { Bit, Bubble, Column, Facts, Pane, Row, Words } from '../../pieces/layout';
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
  const answer = useGet(people.get, { params: { id } }, { keep: true });
  const erase = useAct(people.erase);
  const { work, error, busy } = useWork();
  const [editing, setEditing] = useState(false);
  const [dependant, setDependant] = useState<DependantRow | 'new'>();
  const [merging, setMerging] = useState(false);
  const [words, setWords] = useState('');
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
  const { person, lists, tags, consent, texts, dependants, sharers, suppressed } = answer.data;
  const act = async (what: () => Promise<unknown>) => {
    await work(what);
  };
  const labels = new Map(
    (sources?.fields ?? []).filter((field) => field.about === 'person').map((field) => [field.slug, field.label]),
  );
  const thread = [...texts].sort((a, b) => (a.at < b.at ? -1 : 1));
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
        <FactsOf
          person={person}
          sharers={sharers}
          suppressed={suppressed}
          now={now}
          labels={labels}
          lists={lists}
          tags={tags}
          sources={sources}
          may={may}
          act={act}
          id={id}
        />
        {rule && <WhyPart rule={rule} id={id} />}
        <DependantsOf dependants={dependants} may={may} setDependant={setDependant} />
        <ConsentPart
          id={id}
          number={person.number}
          events={consent}
          may={may}
          optedOut={suppressed !== null}
          zone={workspace.zone}
          now={now}
          act={act}
        />
        <HistoryPart id={id} />
        <Words as="h2" line above={9}>
          Texts
        </Words>
        <History thread={thread} now={now} />
        <Trouble error={error} />
        <TextThem person={person} act={act} id={id} words={words} setWords={setWords} busy={busy} />
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
              confirm={() => void act(() => erase({ params: { id } }).then(close))}
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

/** What is known of them. */
function FactsOf({
  person,
  sharers,
  suppressed,
  now,
  labels,
  lists,
  tags,
  sources,
  may,
  act,
  id,
}: {
  person: KnownPerson['person'];
  sharers: KnownPerson['sharers'];
  suppressed: KnownPerson['suppressed'];
  now: number;
  labels: Map<string, string>;
  lists: KnownPerson['lists'];
  tags: KnownPerson['tags'];
  sources: Sources | undefined;
  may: boolean;
  act: (what: () => Promise<unknown>) => Promise<void>;
  id: number;
}) {
  const { workspace } = useDesk();
  const put = { lists: useAct(groups.list.put), tags: useAct(groups.tag.put) };
  const take = { lists: useAct(groups.list.take), tags: useAct(groups.tag.take) };
  return (
    <Facts>
      <dt>text number</dt>
      <dd>
        {showPhone(person.number)}
        {person.number_kind === 'mobile' || person.number_kind === 'fixed' ? (
          <Bit soft>
            {' '}
            {person.number_kind === 'fixed' ? 'fixed line' : 'mobile'}
            {person.kind_source ? `, ${person.kind_source === 'file' ? 'by the file' : person.kind_source}` : ''}
          </Bit>
        ) : null}
        {sharers.length > 0 && (
          <Bit soft>
            {' '}
            shared with{' '}
            {sharers.map((each, i) => (
              <span key={each.id}>
                {i > 0 ? ', ' : ''}
                <Way to={`/people/${each.id}`}>{nameOf(each)}</Way>
              </span>
            ))}
          </Bit>
        )}
      </dd>
      <dt>can be texted</dt>
      <Bit as="dd" brick={person.reach !== 'yes'}>
        {person.reach}
        {suppressed ? `, ${when(suppressed.at, workspace.zone, now)}, ${suppressed.how}` : ''}
      </Bit>
      {person.zone && (
        <>
          <dt>their time</dt>
          <dd>
            {clockTime(now, person.zone)} {zoneName(person.zone)}{' '}
            {person.zone_guessed && <Bit soft>(guessed from the number)</Bit>}
          </dd>
        </>
      )}
      {person.quiet && (
        <Fact
          name="not disturbed"
          value={`${wallTime(person.quiet.slice(0, 5))} to ${wallTime(person.quiet.slice(6))}, their time`}
        />
      )}
      {person.language && <Fact name="language" value={languageName(person.language)} />}
      {person.reference && <Fact name="reference" value={person.reference} />}
      {person.born && <Fact name="born" value={fieldText(person.born)} />}
      {Object.entries(person.fields)
        .filter(([, value]) => value !== '')
        .map(([slug, value]) => (
          <Fact key={slug} name={labels.get(slug) ?? slug.replaceAll('_', ' ')} value={fieldText(value)} />
        ))}
      {(['lists', 'tags'] as const).map((kind) => (
        <Groups
          key={kind}
          kind={kind}
          mine={kind === 'lists' ? lists : tags}
          all={(kind === 'lists' ? sources?.lists : sources?.tags) ?? []}
          may={may}
          put={(group) => void act(() => put[kind]({ params: { id: group, person: id } }))}
          take={(group) => void act(() => take[kind]({ params: { id: group, person: id } }))}
        />
      ))}
    </Facts>
  );
}

/** For whom they are a contact. */
function DependantsOf({
  dependants,
  may,
  setDependant,
}: {
  dependants: readonly DependantRow[];
  may: boolean;
  setDependant: (dependant: DependantRow | 'new') => void;
}) {
  return (
    <>
      {(dependants.length > 0 || may) && (
        <>
          <Row between base line above={9}>
            <h2>Contact of</h2>
            {may && (
              <Way small onClick={() => setDependant('new')}>
                add someone
              </Way>
            )}
          </Row>
          {dependants.length === 0 && (
            <Words as="p" soft small>
              Nobody.
            </Words>
          )}
          <Column as="ul" small gap={5}>
            {dependants.map((each) => (
              <li key={each.id}>
                <Way strong onClick={() => setDependant(each)}>
                  {nameOf(each)}
                </Way>{' '}
                {Object.values(each.fields).filter(Boolean).join(', ')}{' '}
                <Bit soft>
                  {CONTACT_WORDS[each.contact] ?? `contact ${each.contact}`}
                  {(each.others ?? []).length > 0 ? ', also ' : ''}
                </Bit>
                {(each.others ?? []).map((other, i) => (
                  <span key={other.id}>
                    {i > 0 ? ', ' : ''}
                    <Way to={`/people/${other.id}`}>{other.name || 'no name'}</Way>
                  </span>
                ))}
                {each.must_not_receive && <Bit brick> must not receive</Bit>}
              </li>
            ))}
          </Column>
        </>
      )}
    </>
  );
}

/** What was last said. */
function History({ thread, now }: { thread: KnownPerson['texts']; now: number }) {
  const { workspace } = useDesk();
  return (
    <Column gap={7}>
      {thread.length === 0 && (
        <Words as="p" soft small>
          None yet.
        </Words>
      )}
      {thread.map((text) => (
        <Bubble key={`${text.direction}${text.id}`} to={text.direction === 'to'}>
          {text.body || <i>erased</i>}
          <Words soft small>
            {when(text.at, workspace.zone, now)}
            {text.state ? ` · ${text.state.replaceAll('_', ' ')}` : ''}
            {text.reason ? `: ${text.reason}` : ''}
            {text.run && text.run_id ? (
              <>
                {' · '}
                <Way to={`/runs/${text.run_id}`}>{text.run}</Way>
              </>
            ) : (
              ''
            )}
          </Words>
        </Bubble>
      ))}
    </Column>
  );
}

/** A text to this person alone. */
function TextThem({
  person,
  act,
  id,
  words,
  setWords,
  busy,
}: {
  person: KnownPerson['person'];
  act: (what: () => Promise<unknown>) => Promise<void>;
  id: number;
  words: string;
  setWords: (words: string) => void;
  busy: boolean;
}) {
  const { account } = useDesk();
  const sendText = useAct(people.text);
  return (
    <>
      {mayDo(account.role, 'send') && person.reach === 'yes' && (
        <Row
          as="form"
          nowrap
          onSubmit={(event: React.FormEvent) => {
            event.preventDefault();
            void act(async () => {
              await sendText({ params: { id }, body: { words } });
              setWords('');
            });
          }}
        >
          <Field
            label={`Text ${nameOf(person)}`}
            placeholder={`Text ${person.given_name || 'them'}…`}
            value={words}
            onChange={setWords}
          />
          <Button type="submit" variant="contained" disabled={busy || words.trim() === ''}>
            Send
          </Button>
        </Row>
      )}
    </>
  );
}

function Fact({ name, value }: { name: string; value: string }) {
  return (
    <>
      <dt>{name}</dt>
      <dd>{value}</dd>
    </>
  );
}

/** Lists or tags someone has, to be added to and taken from. */
function Groups({
  kind,
  mine,
  all,
  may,
  put,
  take,
}: {
  kind: 'lists' | 'tags';
  mine: readonly { id: number; name: string }[];
  all: readonly { id: number; name: string }[];
  may: boolean;
  put: (id: number) => void;
  take: (id: number) => void;
}) {
  const other = all.filter((each) => !mine.some((one) => one.id === each.id));
  const words = kind === 'lists' ? 'Put on a list' : 'Give a tag';
  if (!may && mine.length === 0) return null;
  return (
    <>
      <dt>{kind}</dt>
      <dd>
        {mine.map((each, i) => (
          <span key={each.id}>
            {i > 0 ? ', ' : ''}
            <Way to={`/people?${kind === 'lists' ? 'list' : 'tag'}=${each.id}`}>{each.name}</Way>
            {may && (
              <>
                {' '}
                <Way small aria-label={`Take ${kind === 'lists' ? 'off' : 'away'} ${each.name}`} onClick={() => take(each.id)}>
                  ×
                </Way>
              </>
            )}
          </span>
        ))}
        {may && other.length > 0 && (
          <>
            {mine.length > 0 && ' '}
            <Choose
              label={words}
              small
              soft
              value=""
              options={[
                ['', kind === 'lists' ? 'put on…' : 'add…'],
                ...other.map((each) => [String(each.id), each.name] as const),
              ]}
              onChange={(group) => group !== '' && put(Number(group))}
            />
          </>
        )}
      </dd>
    </>
  );
}
