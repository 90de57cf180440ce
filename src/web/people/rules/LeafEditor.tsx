import type { Condition, Group } from '../../../core/audience/condition';
import { isAge } from '../../../core/audience/words';
import type { Sources } from '../sources';
import { Choose } from '../../pieces/form/choices';
import { Bit } from '../../pieces/layout';
import { FieldPart } from './FieldPart';
import { fieldsOf, startOf } from './fields-of';
import { Happened } from './Happened';
import { Picked } from './Picked';

type Leaf = Exclude<Condition, Group | { on: 'dependant' }>;

const REACH = [
  ['yes', 'can be texted'],
  ['no', 'cannot be texted'],
  ['no text number', 'has no text number'],
  ['opted out', 'opted out'],
  ['fixed line', 'has a fixed line'],
  ['notices withdrawn', 'withdrew notices'],
  ['notices not agreed', 'has not agreed to notices'],
] as const;

/** One condition as a sentence; what it is about, how, and the value. */
export function LeafEditor({
  leaf,
  change,
  sources,
  about,
  focus = false,
}: {
  leaf: Leaf;
  /** It has just been added: its number can be typed at once. */
  focus?: boolean;
  change: (leaf: Condition) => void;
  sources: Sources | undefined;
  about: 'person' | 'dependant';
}) {
  const fields = fieldsOf(sources, about);
  const subject = subjectOf(leaf);
  const subjects: (readonly [string, string])[] = [
    ...fields.map((field) => [`field ${field.slug}`, field.label] as const),
    ['age', 'age'],
    ...(about === 'person'
      ? ([
          ['list', 'is on'],
          ['not list', 'is not on'],
          ['tag', 'is tagged'],
          ['not tag', 'is not tagged'],
          ['activity', 'they'],
          ['reach', 'reach:'],
          ['consent service', 'consent to service notices'],
          ['consent marketing', 'consent to marketing'],
          ['dependant', 'contact of a dependant'],
        ] as const)
      : []),
  ];
  const about_ = (next: string) => {
    if (next.startsWith('field ')) {
      const slug = next.slice(6);
      change(startOf(slug, fields.find((field) => field.slug === slug)?.type ?? 'text'));
    } else if (next === 'age') change({ on: 'field', field: 'born', test: 'years_at_least', years: 60 });
    else if (next === 'list' || next === 'tag' || next === 'not list' || next === 'not tag') {
      const on = next.endsWith('list') ? 'list' : 'tag';
      const first = (on === 'list' ? sources?.lists : sources?.tags)?.slice(0, 1).map((each) => each.id) ?? [];
      // what was chosen of the same kind stays chosen when only its sense is turned
      change({ on, ids: leaf.on === on ? leaf.ids : first, ...(next.startsWith('not ') ? { not: true as const } : {}) });
    } else if (next === 'activity') change({ on: 'activity', what: 'answered', when: 'last_days', days: 30 });
    else if (next === 'reach') change({ on: 'reach', is: 'yes' });
    else if (next === 'dependant') change({ on: 'dependant', contact: 'first', of: { op: 'all', of: [] } });
    else change({ on: 'consent', purpose: next === 'consent service' ? 'service' : 'marketing', is: 'granted' });
  };
  return (
    <Bit strong>
      <Choose label="What the condition is about" value={subject} options={subjects} onChange={about_} />{' '}
      {leaf.on === 'field' && (
        <FieldPart
          leaf={leaf}
          type={fields.find((field) => field.slug === leaf.field)?.type ?? 'text'}
          about={about}
          change={change}
          focus={focus}
        />
      )}
      {(leaf.on === 'list' || leaf.on === 'tag') && (
        <Picked
          label={leaf.on === 'list' ? 'List' : 'Tag'}
          ids={leaf.ids}
          among={(leaf.on === 'list' ? sources?.lists : sources?.tags) ?? []}
          change={(ids) => change({ ...leaf, ids })}
        />
      )}
      {leaf.on === 'consent' && (
        <>
          is{' '}
          <Choose
            label="Consent"
            value={leaf.is}
            options={[
              ['granted', 'granted'],
              ['withdrawn', 'withdrawn'],
              ['nothing', 'not on record'],
            ]}
            onChange={(is) => change({ ...leaf, is })}
          />
        </>
      )}
      {leaf.on === 'reach' && <Choose label="Reach" value={leaf.is} options={REACH} onChange={(is) => change({ ...leaf, is })} />}
      {leaf.on === 'activity' && <Happened leaf={leaf} change={change} />}
    </Bit>
  );
}

/** What a leaf is about, as it is chosen. */
function subjectOf(leaf: Leaf): string {
  switch (leaf.on) {
    case 'field':
      return 'years' in leaf && isAge(leaf) ? 'age' : `field ${leaf.field}`;
    case 'consent':
      return `consent ${leaf.purpose}`;
    case 'list':
    case 'tag':
      return leaf.not ? `not ${leaf.on}` : leaf.on;
    default:
      return leaf.on;
  }
}
