import { useState } from 'react';
import type { ActivityCondition, Condition, FieldCondition, Group } from '../../../core/audience/condition';
import { ACTIVITY_NOT_WORDS, ACTIVITY_WORDS, isAge, TEST_WORDS } from '../../../core/audience/words';
import type { FieldType } from '../../../core/merge/compile';
import { DEPENDANT_FIELDS, PERSON_FIELDS } from '../../../core/people/person-fields';
import { fields as fieldsApi } from '../../../core/api/people/groups';
import { useGet } from '../../api/client';
import { fieldText } from '../../pieces/format';

import type { Sources } from '../sources';
import { Way } from '../../pieces/ways';
import { Choose, TypedValue } from '../../pieces/form/choices';
import { TypedChoice } from '../../pieces/form/TypedChoice';
import { DateField } from '../../pieces/form/dates';
import { Bit } from '../../pieces/layout';

type Leaf = Exclude<Condition, Group | { on: 'dependant' }>;
type Test = FieldCondition['test'];

const TESTS: Record<FieldType, readonly Test[]> = {
  text: ['is', 'is_not', 'has', 'starts', 'filled', 'empty'],
  choice: ['is', 'is_not', 'filled', 'empty'],
  yes_no: ['is', 'filled', 'empty'],
  number: ['equals', 'less', 'more', 'at_least', 'at_most', 'filled', 'empty'],
  date: [
    'next_days',
    'last_days',
    'later_than',
    'longer_ago',
    'years_at_least',
    'years_less',
    'on',
    'before',
    'after',
    'filled',
    'empty',
  ],
};
const AGES: readonly Test[] = ['years_at_least', 'years_less'];
const REACH = [
  ['yes', 'can be texted'],
  ['no', 'cannot be texted'],
  ['no text number', 'has no text number'],
  ['opted out', 'opted out'],
  ['fixed line', 'has a fixed line'],
  ['notices withdrawn', 'withdrew notices'],
  ['notices not agreed', 'has not agreed to notices'],
] as const;

/** Fields by slug with what they are, built-in ones first. */
export function fieldsOf(
  sources: Sources | undefined,
  about: 'person' | 'dependant',
): { slug: string; label: string; type: FieldType; choices?: readonly string[] }[] {
  return [
    ...(sources?.fields ?? []).filter((field) => field.about === about),
    ...(about === 'person' ? PERSON_FIELDS : DEPENDANT_FIELDS),
  ];
}

/** One condition as a sentence; what it is about, how, and the value. */
export function LeafEditor({
  leaf,
  change,
  sources,
  about,
  focus = false,
}: {
  leaf: Leaf;
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
        <>
          <Picked
            label={leaf.on === 'list' ? 'List' : 'Tag'}
            ids={leaf.ids}
            among={(leaf.on === 'list' ? sources?.lists : sources?.tags) ?? []}
            change={(ids) => change({ ...leaf, ids })}
          />
        </>
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

/** What they did or did not do, and when: "got no text in the last 30 days" is one choice and its days. */
function Happened({ leaf, change }: { leaf: ActivityCondition; change: (leaf: Condition) => void }) {
  const not = leaf.when === 'not_days' || leaf.when === 'never';
  const whats = Object.keys(ACTIVITY_WORDS) as ActivityCondition['what'][];
  // turned round, it is about the same time
  const when = (turned: boolean): ActivityCondition['when'] =>
    turned === not
      ? leaf.when
      : turned
        ? leaf.when === 'ever'
          ? 'never'
          : 'not_days'
        : leaf.when === 'never'
          ? 'ever'
          : 'last_days';
  return (
    <>
      <Choose
        label="What happened"
        value={`${not ? 'not ' : ''}${leaf.what}`}
        options={whats.flatMap((what) => [
          [what, ACTIVITY_WORDS[what]] as const,
          [`not ${what}`, ACTIVITY_NOT_WORDS[what]] as const,
        ])}
        onChange={(chosen) => {
          const what = whats.find((each) => chosen.endsWith(each) && (chosen === each || chosen === `not ${each}`));
          if (what) change({ ...leaf, what, when: when(chosen !== what) });
        }}
      />{' '}
      <Choose
        label="When it happened"
        value={leaf.when}
        options={
          not
            ? [
                ['never', 'at any time'],
                ['not_days', 'in the last'],
              ]
            : [
                ['ever', 'at any time'],
                ['last_days', 'in the last'],
                ['longer_ago', 'longer ago than'],
              ]
        }
        onChange={(chosen) => change({ ...leaf, when: chosen })}
      />{' '}
      {leaf.when !== 'ever' && leaf.when !== 'never' && <Days value={leaf.days} change={(days) => change({ ...leaf, days })} />}
    </>
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

export function startOf(field: string, type: FieldType): FieldCondition {
  if (type === 'date') return { on: 'field', field, test: 'next_days', days: 30 };
  if (type === 'number') return { on: 'field', field, test: 'at_least', number: 0 };
  if (type === 'yes_no') return { on: 'field', field, test: 'is', values: ['yes'] };
  return { on: 'field', field, test: 'filled' };
}

function FieldPart({
  leaf,
  type,
  about,
  change,
  focus,
}: {
  leaf: FieldCondition;
  type: FieldType;
  /** It has just been added: its number can be typed at once. */
  focus: boolean;
  about: 'person' | 'dependant';
  change: (leaf: Condition) => void;
}) {
  const test = (next: Test) => {
    const { on, field } = leaf;
    switch (next) {
      case 'is':
      case 'is_not':
      case 'has':
      case 'starts':
        return change({ on, field, test: next, values: 'values' in leaf ? leaf.values : [type === 'yes_no' ? 'yes' : ''] });
      case 'empty':
      case 'filled':
        return change({ on, field, test: next });
      case 'on':
      case 'before':
      case 'after':
        return change({ on, field, test: next, day: 'day' in leaf ? leaf.day : '2027-01-01' });
      case 'next_days':
      case 'last_days':
      case 'later_than':
      case 'longer_ago':
        return change({ on, field, test: next, days: 'days' in leaf ? leaf.days : 30 });
      case 'years_at_least':
      case 'years_less':
        return change({ on, field, test: next, years: 'years' in leaf ? leaf.years : isAge(leaf) ? 60 : 1 });
      default:
        return change({ on, field, test: next, number: 'number' in leaf ? leaf.number : 0 });
    }
  };
  return (
    <>
      <Choose
        label="Test"
        value={leaf.test}
        // an age is counted in years; what else can be said of the day itself is said of the day
        options={('years' in leaf && isAge(leaf) ? AGES : TESTS[type]).map((each) => [each, TEST_WORDS[each]] as const)}
        onChange={test}
      />{' '}
      {'values' in leaf && type === 'yes_no' && (
        <Choose
          label="Value"
          value={leaf.values[0] ?? 'yes'}
          options={[
            ['yes', 'yes'],
            ['no', 'no'],
          ]}
          onChange={(value) => change({ ...leaf, values: [value] })}
        />
      )}
      {'values' in leaf && type !== 'yes_no' && (
        <Values field={leaf.field} about={about} values={leaf.values} change={(values) => change({ ...leaf, values })} />
      )}
      {'days' in leaf && <Days value={leaf.days} change={(days) => change({ ...leaf, days })} />}
      {'years' in leaf && (
        <>
          <TypedValue
            strong
            label="Years"
            type="number"
            autoFocus={focus}
            input={{ min: 0, max: 150 }}
            value={leaf.years}
            onChange={(typed) => change({ ...leaf, years: Math.max(0, Math.min(150, Math.round(Number(typed) || 0))) })}
          />{' '}
          {leaf.years === 1 ? 'year' : 'years'}
          {isAge(leaf) ? '' : ' ago'}
        </>
      )}
      {'number' in leaf && (
        <TypedValue
          strong
          label="Number"
          type="number"
          value={leaf.number}
          onChange={(typed) => change({ ...leaf, number: Number(typed) })}
        />
      )}
      {'day' in leaf && (
        <DateField inLine label="Day" value={leaf.day} onChange={(day) => day !== '' && change({ ...leaf, day })} />
      )}
    </>
  );
}

function Days({ value, change }: { value: number; change: (days: number) => void }) {
  return (
    <>
      <TypedValue
        strong
        label="Days"
        type="number"
        input={{ min: 0, max: 3650 }}
        value={value}
        onChange={(typed) => change(Math.max(0, Math.min(3650, Math.round(Number(typed) || 0))))}
      />{' '}
      {value === 1 ? 'day' : 'days'}
    </>
  );
}

/** Words to look for, any of them; those that people really have are offered. */
function Values({
  field,
  about,
  values,
  change,
}: {
  field: string;
  about: string;
  values: readonly string[];
  change: (values: string[]) => void;
}) {
  const offered = useGet(fieldsApi.values, { params: { about, slug: field } }).data?.values ?? [];
  return (
    <>
      {values.map((value, at) => (
        <span key={at}>
          {at > 0 && 'or '}
          <TypedChoice
            strong
            label="Value"
            value={value}
            options={offered.map((each) => each.value)}
            words={fieldText}
            onChange={(typed) => change(values.map((each, i) => (i === at ? typed : each)))}
            left={() => {
              if (values.length > 1 && value === '') change(values.filter((_, i) => i !== at));
            }}
          />{' '}
        </span>
      ))}
      <Way small onClick={() => change([...values, ''])}>
        or…
      </Way>
    </>
  );
}

/** Lists or tags, any of them. */
function Picked({
  label,
  ids,
  among,
  change,
}: {
  label: string;
  ids: readonly number[];
  among: readonly { id: number; name: string }[];
  change: (ids: number[]) => void;
}) {
  const [more, setMore] = useState(false);
  const options = (now: number): (readonly [string, string])[] => [
    ...(among.some((each) => each.id === now) ? [] : [[String(now), 'choose…'] as const]),
    ...among.map((each) => [String(each.id), each.name] as const),
  ];
  return (
    <>
      {ids.map((id, at) => (
        <span key={at}>
          {at > 0 && 'or '}
          <Choose
            label={label}
            value={String(id)}
            options={options(id)}
            onChange={(next) => change(ids.map((each, i) => (i === at ? Number(next) : each)))}
          />{' '}
          {ids.length > 1 && (
            <Way small aria-label="Not this one" onClick={() => change(ids.filter((_, i) => i !== at))}>
              ×
            </Way>
          )}{' '}
        </span>
      ))}
      {more || ids.length === 0 ? (
        <Choose
          label={`Another ${label.toLowerCase()}`}
          value="0"
          options={options(0)}
          onChange={(next) => {
            setMore(false);
            change([...ids, Number(next)]);
          }}
        />
      ) : (
        <Way small onClick={() => setMore(true)}>
          or…
        </Way>
      )}
    </>
  );
}
