import { useEffect, useState } from 'react';
import type { Condition } from '../../../core/audience/condition';
import { segments } from '../../../core/api/people/groups';
import type { Why } from '../../../core/audience/words';
import { ask } from '../../api/client';
import { fieldText } from '../../pieces/format';
import { Ring } from '../../pieces/chart/Ring';
import { Bit, Column, Row, Spoken, Words } from '../../pieces/layout';

/** Why this person is in what is shown, or out of it: each condition and what they have. */
export function WhyPart({ rule, id }: { rule: Condition; id: number }) {
  const [why, setWhy] = useState<Why[]>();
  const text = JSON.stringify(rule);
  useEffect(() => {
    let current = true;
    ask(segments.why, { body: { rule: JSON.parse(text) as unknown, person_id: id } })
      .then((answer) => current && setWhy(answer.why))
      .catch(() => current && setWhy(undefined));
    return () => {
      current = false;
    };
  }, [text, id]);
  if (!why || why.length === 0) return null;
  const inside = why.every((each) => each.holds);
  return (
    <>
      <Words as="h2" line above={9}>
        {inside ? 'Why in this' : 'Why not in this'}
      </Words>
      <Column as="ul" small gap={3}>
        {why.map((each) => (
          <Row as="li" nowrap base gap={7} key={each.words}>
            <Bit brick={!each.holds} fixed>
              <Ring state={each.holds ? 'yes' : 'no'} />
            </Bit>
            <span>
              {each.words}
              {each.has !== undefined ? <Bit soft> (is {fieldText(each.has)})</Bit> : ''}
              <Spoken>{each.holds ? ', holds' : ', does not hold'}</Spoken>
            </span>
          </Row>
        ))}
      </Column>
    </>
  );
}
