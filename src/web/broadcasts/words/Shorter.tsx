import { Button } from '@mui/material';
import { useEffect, useState, type ReactNode } from 'react';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import type { Answer } from '../../../core/api/endpoint';
import type { Draft } from '../../../core/plan/draft/draft';
import { ask } from '../../api/client';
import { useDesk } from '../../api/session';
import { money, parts } from '../../pieces/format';
import { Bit, Column, Row, Words } from '../../pieces/layout';
import { useSay } from '../../pieces/Said';
import { Trouble, useSettled } from '../../pieces/small';

type Proposal = Answer<typeof broadcasts.shorter>['proposals'][number];
const WHY: Record<string, string> = {
  filler: 'says nothing',
  shorter: 'shorter',
  abbreviation: 'abbreviation',
  'plain characters': 'plain character',
  picture: 'no word is changed',
  spaces: 'spaces',
  'all of them': '',
};

/** How it could be said shorter or plainer, by rule: each beside what stands there, with what it saves over the real audience. */
export function Shorter({
  id,
  draft,
  language,
  words,
  write,
}: {
  id: number;
  draft: Draft;
  language: string;
  words: string;
  write: (words: string) => void;
}): ReactNode {
  const { workspace } = useDesk();
  const say = useSay();
  const [found, setFound] = useState<{ for: string; proposals: Proposal[] }>();
  const [error, setError] = useState<unknown>();
  const settled = useSettled(draft, 400);
  useEffect(() => {
    let current = true;
    const [first] = workspace.languages;
    const of = language === first ? settled.words : (settled.translations?.[language] ?? '');
    ask(broadcasts.shorter, { params: { id }, body: { draft: settled, language } })
      .then(({ proposals }) => current && (setFound({ for: of, proposals }), setError(undefined)))
      .catch((refused: unknown) => current && setError(refused));
    return () => {
      current = false;
    };
  }, [id, settled, language, workspace.languages]);
  // what was proposed for other words is none for these
  const proposals = found?.for === words ? found.proposals : undefined;
  return (
    <Column gap={0} line above={6} role="region" aria-label="Shorter words">
      <Trouble error={error} />
      {!proposals && !error && (
        <Words soft small role="status">
          Looking for shorter words…
        </Words>
      )}
      {proposals?.length === 0 && (
        <Words soft small role="status">
          Nothing here could be said shorter by rule.
        </Words>
      )}
      {proposals?.map((each) => (
        <Row key={each.words} small between nowrap under pad="4px 0" gap={12}>
          <Words grow>
            {each.why === 'all of them' ? (
              <b>All of these at once</b>
            ) : (
              <>
                <s>{each.was}</s> → <b>{each.becomes || 'nothing'}</b> <Bit soft>{WHY[each.why] ?? each.why}</Bit>
              </>
            )}
          </Words>
          <Bit fixed>
            {each.saves_parts > 0
              ? `${parts(each.saves_parts)}, ${money(each.saves_micro, workspace.currency)} less`
              : 'no part less'}
          </Bit>
          <Button
            aria-label={`Take it: ${each.why === 'all of them' ? 'all of these' : `${each.becomes || 'nothing'} instead of ${each.was}`}`}
            onClick={() => {
              write(each.words);
              say('The words are changed.', () => write(words));
            }}
          >
            Take it
          </Button>
        </Row>
      ))}
    </Column>
  );
}
