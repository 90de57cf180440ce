import type { Condition, FieldCondition } from '../../../core/audience/condition';
import { isAge, TEST_WORDS } from '../../../core/audience/words';
import { fields as fieldsApi } from '../../../core/api/people/groups';
import type { FieldType } from '../../../core/merge/compile';
import { useGet } from '../../api/client';
import { fieldText } from '../../pieces/format';
import { Choose, TypedValue } from '../../pieces/form/choices';
import { DateField } from '../../pieces/form/dates';
import { TypedChoice } from '../../pieces/form/TypedChoice';
import { Way } from '../../pieces/ways';
import { Days } from './Days';

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

/** How a field is asked, and for what. */
export function FieldPart({
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
