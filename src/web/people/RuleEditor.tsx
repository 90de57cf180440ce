import type { ReactNode } from 'react';
import type { Condition, Group } from '../../core/audience/condition';
import { LeafEditor } from './LeafEditor';
import { Choose } from '../pieces/small';
import type { Sources } from './sources';

const OPS = [
  ['all', 'all'],
  ['any', 'any'],
  ['none', 'none'],
] as const;

/** A rule as sentences that read aloud, each value in place to be changed; groups nest. */
export function RuleEditor({
  rule,
  change,
  sources,
  about,
  lead,
  depth = 0,
  remove: removeSelf,
}: {
  rule: Group;
  change: (rule: Group) => void;
  sources: Sources | undefined;
  about: 'person' | 'dependant';
  /** The words before the operator. */
  lead: ReactNode;
  depth?: number;
  /** Takes the whole group away. */
  remove?: () => void;
}) {
  const set = (at: number, each: Condition) => change({ ...rule, of: rule.of.map((old, i) => (i === at ? each : old)) });
  const remove = (at: number) => change({ ...rule, of: rule.of.filter((_, i) => i !== at) });
  const add = (each: Condition) => change({ ...rule, of: [...rule.of, each] });
  const blank: Condition =
    about === 'person'
      ? { on: 'field', field: sources?.fields.find((f) => f.about === 'person')?.slug ?? 'family_name', test: 'filled' }
      : { on: 'field', field: sources?.fields.find((f) => f.about === 'dependant')?.slug ?? 'given_name', test: 'filled' };
  return (
    <div className={depth > 0 ? 'rule-group' : ''} role="group" aria-label={depth === 0 ? 'Rule' : 'Group'}>
      <div className="rule-line">
        {lead}{' '}
        <Choose
          label="How the conditions hold together"
          value={rule.op}
          options={OPS}
          onChange={(op) => change({ ...rule, op })}
        />{' '}
        {depth === 0 ? 'of this is true:' : 'of:'}
        {removeSelf && (
          <button type="button" className="way small" aria-label="Take this group away" onClick={removeSelf}>
            ×
          </button>
        )}
      </div>
      {rule.of.map((each, at) => (
        <div key={at} className="rule-item">
          {'op' in each ? (
            <RuleEditor
              rule={each}
              change={(next) => set(at, next)}
              sources={sources}
              about={about}
              lead=""
              depth={depth + 1}
              remove={() => remove(at)}
            />
          ) : 'on' in each && each.on === 'dependant' ? (
            <RuleEditor
              rule={'op' in each.of ? each.of : { op: 'all', of: [each.of] }}
              change={(of) => set(at, { ...each, of })}
              sources={sources}
              about="dependant"
              lead={
                <>
                  is{' '}
                  <Choose
                    label="Which contact"
                    value={each.contact}
                    options={[
                      ['any', 'a'],
                      ['first', 'the first'],
                      ['second', 'the second'],
                    ]}
                    onChange={(contact) => set(at, { ...each, contact })}
                  />{' '}
                  contact of someone with
                </>
              }
              depth={depth + 1}
              remove={() => remove(at)}
            />
          ) : (
            <>
              <LeafEditor leaf={each} change={(next) => set(at, next)} sources={sources} about={about} />
              <button type="button" className="way small" aria-label="Take this condition away" onClick={() => remove(at)}>
                ×
              </button>
            </>
          )}
        </div>
      ))}
      <div className="rule-line small">
        <button type="button" className="way" onClick={() => add(blank)}>
          {rule.of.length === 0 ? 'add a condition' : rule.op === 'all' ? 'and…' : 'or…'}
        </button>
        {depth < 3 && (
          <>
            <button type="button" className="way" onClick={() => add({ op: 'any', of: [blank] })}>
              any of…
            </button>
            <button type="button" className="way" onClick={() => add({ op: 'none', of: [blank] })}>
              none of…
            </button>
          </>
        )}
      </div>
    </div>
  );
}
