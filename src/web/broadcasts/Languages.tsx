import type { ReactNode } from 'react';
import type { PlanSummary } from '../../core/api/plan';
import type { Draft } from '../../core/plan/draft';
import { useDesk } from '../api/session';
import { Shown } from '../pieces/choices';
import { count, languageName } from '../pieces/format';
import { Bit, Column, Row, TextBox } from '../pieces/layout';
import { Way } from '../pieces/ways';
import { InWords } from './InWords';

/** Who gets which words: the languages beside one another, and what those get for whom there are none. */
export function Languages({
  draft,
  plan,
  known,
  language,
  setLanguage,
  write,
}: {
  draft: Draft;
  plan: PlanSummary | undefined;
  /** What can be put in, by its name in words. */
  known: ReadonlyMap<string, string>;
  language: string;
  setLanguage: (language: string) => void;
  /** Writes the words of the language that is shown. */
  write: (words: string) => void;
}): ReactNode {
  const { workspace } = useDesk();
  const [first] = workspace.languages;
  const own = (each: string) => each === first || (draft.translations?.[each] ?? '').trim() !== '';
  const of = (each: string) => plan?.languages.find((row) => row.language === each);
  return (
    <Column gap={6}>
      <Row small>
        <Shown
          label="Language of the words"
          value={language}
          options={workspace.languages.map((each) => [
            each,
            <span key={each}>
              {languageName(each)}{' '}
              <Bit soft small>
                {plan ? count(of(each)?.people ?? 0) : '…'}
                {own(each) ? '' : ', no words'}
              </Bit>
            </span>,
          ])}
          onChange={setLanguage}
        />
      </Row>
      {language !== first && (
        <Column gap={4}>
          <TextBox small pad="6px 10px">
            {draft.words.trim() === '' ? (
              `There are no ${languageName(first)} words yet.`
            ) : (
              <InWords words={draft.words} known={known} />
            )}
          </TextBox>
          {!own(language) && (
            <Row small>
              <Bit soft>Until there are words in {languageName(language)}, they get these.</Bit>
              {draft.words.trim() !== '' && <Way onClick={() => write(draft.words)}>begin with them</Way>}
            </Row>
          )}
        </Column>
      )}
    </Column>
  );
}
