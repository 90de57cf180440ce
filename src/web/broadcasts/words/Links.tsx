import { Button } from '@mui/material';
import type { ReactNode } from 'react';
import type { Draft } from '../../../core/plan/draft/draft';
import { linksOf, MOST_LINKS, type LinkSpec } from '../../../core/plan/draft/links';
import { TypedValue } from '../../pieces/form/choices';
import { Field } from '../../pieces/form/Field';
import { Bit, Column, Row } from '../../pieces/layout';
import { Value, Way } from '../../pieces/ways';
import { useLinkCheck, type LinkState } from './link-check';

/** A name as it stands in `{link name}`. */
const slugOf = (typed: string) =>
  typed
    .toLowerCase()
    .replace(/[^a-z0-9_]/g, '')
    .replace(/^[^a-z]+/, '')
    .slice(0, 31);

/** The links of a broadcast: each with a name, an address, and until when it leads anywhere; short and personal in each text. */
export function Links({
  draft,
  change,
  putIn,
}: {
  draft: Pick<Draft, 'link' | 'links'>;
  change: (part: Pick<Draft, 'link' | 'links'>) => void;
  putIn: (source: string) => void;
}): ReactNode {
  const links = linksOf(draft);
  const states = useLinkCheck(draft);
  const keep = (next: LinkSpec[]) => change({ link: null, links: next });
  const shown = links.length > 0 ? links : [{ name: 'more', address: '' }];
  const set = (at: number, part: Partial<LinkSpec>) => keep(shown.map((link, i) => (i === at ? { ...link, ...part } : link)));
  const free = () => {
    for (let n = shown.length + 1; ; n += 1) if (!shown.some(({ name }) => name === `link${n}`)) return `link${n}`;
  };
  return (
    <Column gap={8}>
      {shown.map((link, at) => (
        <Column key={at} gap={2}>
          <Row nowrap>
            <Row nowrap small fixed width={140}>
              name
              <Field
                label={`Name of link ${at + 1}`}
                value={link.name}
                onChange={(typed) => set(at, { name: slugOf(typed) || 'more' })}
              />
            </Row>
            <Row nowrap small grow>
              address
              <Field
                label={`Address of link ${at + 1}`}
                type="url"
                placeholder="https://…"
                value={link.address}
                onChange={(address) => set(at, { address: address.trim() })}
              />
            </Row>
            <Button disabled={link.address === ''} onClick={() => putIn(`{link ${link.name}}`)}>
              Put it in
            </Button>
          </Row>
          <LinkAnswers state={states.get(link.address)} />
          <Row small gap={6} base>
            {link.days === undefined ? (
              <Value soft aria-label={`“${link.name}” never stops working`} onClick={() => set(at, { days: 45 })}>
                never stops working
              </Value>
            ) : (
              <>
                <Bit soft>works for</Bit>
                <TypedValue
                  label={`Days for which “${link.name}” works`}
                  type="number"
                  value={link.days}
                  input={{ min: 1, max: 400 }}
                  onChange={(typed) => {
                    const days = Math.round(Number(typed));
                    if (days >= 1 && days <= 400) set(at, { days });
                  }}
                />
                <Bit soft>days after the text went</Bit>
                <Way small onClick={() => set(at, { days: undefined })}>
                  without an end
                </Way>
              </>
            )}
            {links.length > 0 && (
              <Way
                small
                aria-label={`take it away: the link “${link.name}”`}
                onClick={() => keep(links.filter((_, i) => i !== at))}
              >
                take it away
              </Way>
            )}
          </Row>
        </Column>
      ))}
      {links.length > 0 && links.length < MOST_LINKS && (
        <Row>
          <Way small onClick={() => keep([...links, { name: free(), address: '' }])}>
            another link
          </Way>
        </Row>
      )}
    </Column>
  );
}

function LinkAnswers({ state }: { state: LinkState | undefined }): ReactNode {
  if (!state) return null;
  return (
    <Bit small soft={state.answers === 'yes'} brick={state.answers === 'no'} plum={state.answers === 'unknown'} role="status">
      {state.answers === 'yes'
        ? state.why
        : state.answers === 'no'
          ? `does not work: ${state.why}`
          : `could not be checked: ${state.why}`}
    </Bit>
  );
}
