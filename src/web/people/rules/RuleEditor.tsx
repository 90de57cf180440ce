import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import type { Condition, Group } from '../../../core/audience/condition';
import { LeafEditor } from './LeafEditor';

import type { Sources } from '../sources';
import { Way } from '../../pieces/ways';
import { Choose } from '../../pieces/form/choices';
import { Row } from '../../pieces/layout';

const Nested = styled('div', { shouldForwardProp: (name) => name !== 'inner' })<{ inner: boolean }>(({ theme, inner }) => ({
  ...(inner ? { borderLeft: `1px solid ${theme.bell.edge}`, paddingLeft: 12 } : {}),
}));

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
    <Nested inner={depth > 0} role="group" aria-label={depth === 0 ? 'Rule' : 'Group'}>
      <Row base gap={6} pad="3px 0">
        {lead}{' '}
        <Choose
          label="How the conditions hold together"
          value={rule.op}
          options={OPS}
          onChange={(op) => change({ ...rule, op })}
        />{' '}
        {depth === 0 ? 'of this is true:' : 'of:'}
        {removeSelf && (
          <Way small aria-label="Take this group away" onClick={removeSelf}>
            ×
          </Way>
        )}
      </Row>
      {rule.of.map((each, at) => (
        <Row base nowrap gap={10} pad="2px 0" key={at}>
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
              <Way small aria-label="Take this condition away" onClick={() => remove(at)}>
                ×
              </Way>
            </>
          )}
        </Row>
      ))}
      <Row base small gap={12} pad="3px 0">
        <Way onClick={() => add(blank)}>{rule.of.length === 0 ? 'add a condition' : rule.op === 'all' ? 'and…' : 'or…'}</Way>
        {depth < 3 && (
          <>
            <Way onClick={() => add({ op: 'any', of: [blank] })}>any of…</Way>
            <Way onClick={() => add({ op: 'none', of: [blank] })}>none of…</Way>
          </>
        )}
      </Row>
    </Nested>
  );
}
