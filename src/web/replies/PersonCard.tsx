import { wallClock } from '../../core/zones';
import type { KnownPerson } from '../../core/api/people/people';
import { useDesk } from '../api/session';
import { clockTime, count, fieldText, languageName, zoneName } from '../pieces/format';
import { Bit, Facts, Words } from '../pieces/layout';
import { showPhone } from '../pieces/phone';
import { Way } from '../pieces/ways';

const MOST_FIELDS = 6;

/** Who writes, as far as they are known: enough to answer without opening them. */
export function PersonCard({
  number,
  known,
  labels,
  now,
}: {
  number: string;
  known: KnownPerson | undefined;
  /** What custom fields are called. */
  labels: ReadonlyMap<string, string>;
  now: number;
}) {
  const { zone } = useDesk().workspace;
  if (!known)
    return (
      <>
        <h2>{showPhone(number)}</h2>
        <Words soft above={8}>
          Nobody in the address book has this number.
        </Words>
      </>
    );
  const { person, lists, texts, dependants, consent } = known;
  const theirs = person.zone ?? zone;
  const sent = texts.filter((each) => each.direction === 'to' && Date.parse(each.at) <= now);
  const answers = texts.length - texts.filter((each) => each.direction === 'to').length;
  const said = ['service', 'marketing'].flatMap((purpose) => consent.find((each) => each.purpose === purpose) ?? []);
  const facts: [string, string][] = [
    ['number', person.number ? showPhone(person.number) : 'none any more'],
    ['their time', `${clockTime(now, theirs)} ${zoneName(theirs)}${person.zone_guessed ? ', a guess' : ''}`],
    ...(person.language ? [['language', languageName(person.language)] as [string, string]] : []),
    ...Object.entries(person.fields)
      .filter(([, value]) => value !== '')
      .slice(0, MOST_FIELDS)
      .map(([slug, value]): [string, string] => [labels.get(slug) ?? slug.replaceAll('_', ' '), fieldText(value)]),
    ...(dependants.length > 0
      ? [['about', dependants.map((each) => `${each.given_name} ${each.family_name}`.trim()).join(', ')] as [string, string]]
      : []),
    ...(lists.length > 0 ? [['lists', lists.map((list) => list.name).join(', ')] as [string, string]] : []),
  ];
  return (
    <>
      <h2>
        <Way to={`/people/${person.id}`}>{`${person.given_name} ${person.family_name}`.trim() || 'no name'}</Way>
      </h2>
      <Facts above={8} small>
        {facts.map(([term, value]) => (
          <FactPair term={term} value={value} key={term} />
        ))}
      </Facts>
      <Words line small above={12} pad="10px 0 0">
        <b>{count(sent.length)}</b> {sent.length === 1 ? 'text' : 'texts'} lately, <b>{count(answers)}</b>{' '}
        {answers === 1 ? 'answer' : 'answers'}
        {said.map((each) => (
          <Words key={each.purpose}>
            {each.act} for {each.purpose === 'service' ? 'notices' : 'marketing'}{' '}
            <Bit soft>{fieldText(wallClock(Date.parse(each.at), zone).date)}</Bit>
          </Words>
        ))}
      </Words>
    </>
  );
}

function FactPair({ term, value }: { term: string; value: string }) {
  return (
    <>
      <dt>{term}</dt>
      <Words as="dd">{value}</Words>
    </>
  );
}
