import { styled } from '@mui/material/styles';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import type { Condition, Group } from '../../../core/audience/condition';
import { ConditionChooser } from './ConditionChooser';
import { LeafEditor } from './LeafEditor';

import type { Sources } from '../sources';
import { TakeAway, Way } from '../../pieces/ways';
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
  begins = false,
  remove: removeSelf,
}: {
  rule: Group;
  change: (rule: Group) => void;
  sources: Sources | undefined;
  about: 'person' | 'dependant';
  /** The words before the operator. */
  lead: ReactNode;
  depth?: number;
  /** Its first condition is chosen at once. */
  begins?: boolean;
  /** Takes the whole group away. */
  remove?: () => void;
}) {
  const set = (at: number, each: Condition) => change({ ...rule, of: rule.of.map((old, i) => (i === at ? each : old)) });
  const remove = (at: number) => change({ ...rule, of: rule.of.filter((_, i) => i !== at) });
  const add = (each: Condition) => change({ ...rule, of: [...rule.of, each] });
  // of what has just been added the number can be typed at once
  const [fresh, setFresh] = useState(-1);
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
        {removeSelf && <TakeAway label="Take this group away" onClick={removeSelf} />}
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
              <LeafEditor leaf={each} change={(next) => set(at, next)} sources={sources} about={about} focus={fresh === at} />
              <TakeAway label="Take this condition away" onClick={() => remove(at)} />
            </>
          )}
        </Row>
      ))}
      <Adding
        words={rule.of.length === 0 ? 'add a condition' : rule.op === 'all' ? 'and…' : 'or…'}
        groups={depth < 3}
        begins={begins}
        about={about}
        sources={sources}
        add={(each) => {
          setFresh(rule.of.length);
          add(each);
        }}
      />
    </Nested>
  );
}

/** Ways to one more condition, each of which opens the chooser: of this group, or of one within it. */
function Adding({
  words,
  groups,
  begins,
  add,
  ...chooser
}: {
  words: string;
  groups: boolean;
  begins: boolean;
  about: 'person' | 'dependant';
  sources: Sources | undefined;
  add: (condition: Condition) => void;
}) {
  const [adding, setAdding] = useState<{ anchor: HTMLElement; within?: 'any' | 'none' }>();
  const opener = useRef<HTMLSpanElement>(null);
  const opens = useRef(begins);
  useEffect(() => {
    if (opens.current && opener.current) setAdding({ anchor: opener.current });
    opens.current = false;
  }, []);
  const way = (says: string, within?: 'any' | 'none') => (
    <Way onClick={(event) => setAdding({ anchor: event.currentTarget, within })}>{says}</Way>
  );
  return (
    <Row base small gap={12} pad="3px 0">
      <span ref={opener}>{way(words)}</span>
      {groups && way('any of…', 'any')}
      {groups && way('none of…', 'none')}
      {adding && (
        <ConditionChooser
          {...chooser}
          anchor={adding.anchor}
          add={(each) => add(adding.within ? { op: adding.within, of: [each] } : each)}
          close={() => setAdding(undefined)}
        />
      )}
    </Row>
  );
}
