import { useEffect, useState } from 'react';
import type { Condition } from '../../core/audience/condition';
import type { Why } from '../../core/audience/words';
import { send } from '../api/client';
import { fieldText } from '../pieces/format';
import { Ring } from '../pieces/Ring';

/** Why this person is in what is shown, or out of it: each condition and what they have. */
export function WhyPart({ rule, id }: { rule: Condition; id: number }) {
  const [why, setWhy] = useState<Why[]>();
  const text = JSON.stringify(rule);
  useEffect(() => {
    let current = true;
    send<{ why: Why[] }>('POST', '/api/segments/why', { rule: JSON.parse(text) as unknown, person_id: id })
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
      <h2 className="line" style={{ paddingTop: 9 }}>
        {inside ? 'Why in this' : 'Why not in this'}
      </h2>
      <ul className="small stack" style={{ gap: 3 }}>
        {why.map((each) => (
          <li key={each.words} className="mark-line">
            <span className={each.holds ? '' : 'brick'}>
              <Ring state={each.holds ? 'yes' : 'no'} />
            </span>{' '}
            {each.words}
            {each.has !== undefined ? <span className="soft"> (is {fieldText(each.has)})</span> : ''}
            <span className="visually-hidden">{each.holds ? ', holds' : ', does not hold'}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
