import { Fragment } from 'react';
import type { KnownPerson } from '../../../core/api/people/people';
import { groups } from '../../../core/api/people/groups';
import { useAct } from '../../api/client';
import { useDesk } from '../../api/session';
import { Choose } from '../../pieces/form/choices';
import { clockTime, fieldText, languageName, wallTime, when, zoneName } from '../../pieces/format';
import { Bit, Facts } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { TakeAway, Way } from '../../pieces/ways';
import { nameOf, type Sources } from '../sources';

/** What is known of a person, and the lists and tags they have. */
export function PersonFacts({
  known: { person, sharers, suppressed, lists, tags },
  sources,
  may,
  now,
  act,
}: {
  known: KnownPerson;
  sources: Sources | undefined;
  may: boolean;
  now: number;
  act: (what: () => Promise<unknown>) => Promise<void>;
}) {
  const labels = new Map(
    (sources?.fields ?? []).filter((field) => field.about === 'person').map((field) => [field.slug, field.label]),
  );
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
          put={(group) => void act(() => put[kind]({ params: { id: group, person: person.id } }))}
          take={(group) => void act(() => take[kind]({ params: { id: group, person: person.id } }))}
        />
      ))}
    </Facts>
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
          <Fragment key={each.id}>
            {i > 0 ? (may ? ' ' : ', ') : ''}
            <Bit nobreak>
              <Way to={`/people?${kind === 'lists' ? 'list' : 'tag'}=${each.id}`}>{each.name}</Way>
              {may && (
                <>
                  {' '}
                  <TakeAway label={`Take ${kind === 'lists' ? 'off' : 'away'} ${each.name}`} onClick={() => take(each.id)} />
                </>
              )}
            </Bit>
          </Fragment>
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
