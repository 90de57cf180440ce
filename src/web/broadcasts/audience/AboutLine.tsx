import { useState } from 'react';
import { people as peopleApi } from '../../../core/api/people/people';
import type { About, Draft } from '../../../core/plan/draft/draft';
import { useGet } from '../../api/client';
import { Bit, Row } from '../../pieces/layout';
import { TakeAway, Way } from '../../pieces/ways';
import { AboutPicker } from './AboutPicker';
import { under, type At } from '../../pieces/SmallWindow';

/** Whom the texts are about, said: "class Otters or Pike". */
export function useAboutWords(about: About | undefined): string {
  const fields = useGet(peopleApi.sources, about ? {} : undefined, { keep: true }).data?.fields;
  if (!about) return '';
  const label = fields?.find(({ about: of, slug }) => of === 'dependant' && slug === about.field)?.label ?? about.field;
  return `${label} ${new Intl.ListFormat('en-US', { type: 'disjunction' }).format(about.values)}`;
}

/** Whom the texts are about, in the list of whom they go to; a way to choose others, and to name all again. */
export function AboutLine({
  id,
  draft,
  change,
}: {
  id: number;
  draft: Draft;
  /** Left out where it is only read. */
  change?: (part: Partial<Draft>) => void;
}) {
  const [at, setAt] = useState<At>();
  const words = useAboutWords(draft.about);
  if (!draft.about) return null;
  return (
    <Row as="li" nowrap under pad="6px 0" base>
      <Bit small soft width={56} fixed>
        about
      </Bit>
      <Bit grow>
        {change ? <Way onClick={(event) => setAt(under(event.currentTarget))}>{words}</Way> : words}{' '}
        <Bit soft small>
          names no other dependants
        </Bit>
      </Bit>
      {change && <TakeAway label={`Name all dependants again, not only ${words}`} onClick={() => change({ about: undefined })} />}
      {at && change && <AboutPicker id={id} draft={draft} at={at} change={change} close={() => setAt(undefined)} />}
    </Row>
  );
}
