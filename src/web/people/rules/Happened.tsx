import type { ActivityCondition, Condition } from '../../../core/audience/condition';
import { ACTIVITY_NOT_WORDS, ACTIVITY_WORDS } from '../../../core/audience/words';
import { Choose } from '../../pieces/form/choices';
import { Days } from './Days';

/** What they did or did not do, and when: "got no text in the last 30 days" is one choice and its days. */
export function Happened({ leaf, change }: { leaf: ActivityCondition; change: (leaf: Condition) => void }) {
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
