import type { ReactNode } from 'react';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import type { PlanSummary } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';
import { fileAt, handOver } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { Shown } from '../../pieces/form/choices';
import { count, languageName } from '../../pieces/format';
import { Bit, Column, Row, TextBox } from '../../pieces/layout';
import { FileButton } from '../../pieces/form/FileButton';
import { useSay } from '../../pieces/Said';
import { Trouble } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import { InWords } from '../../pieces/words/InWords';

/** Who gets which words: the languages beside one another, and what those get for whom there are none. */
export function Languages({
  id,
  flush,
  draft,
  plan,
  language,
  setLanguage,
  write,
}: {
  id: number;
  /** What was typed is saved: a file is made of what is saved. */
  flush: () => Promise<unknown>;
  draft: Draft;
  plan: PlanSummary | undefined;
  /** What can be put in, by its name in words. */
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
            {draft.words.trim() === '' ? `There are no ${languageName(first)} words yet.` : <InWords words={draft.words} />}
          </TextBox>
          {draft.words.trim() !== '' && (
            <Translator id={id} language={language} begun={own(language)} write={write} flush={flush} />
          )}
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

/** The words as a file for a translator (XLIFF 2.0), out and in. */
function Translator({
  id,
  language,
  begun,
  write,
  flush,
}: {
  id: number;
  language: string;
  /** There are words in it already: the file has them, or is for a translation from the beginning. */
  begun: boolean;
  write: (words: string) => void;
  flush: () => Promise<unknown>;
}): ReactNode {
  const say = useSay();
  const { work, busy, error } = useWork();
  const take = (whole: 'yes' | 'no') =>
    void work(async () => {
      await flush();
      window.location.assign(fileAt(broadcasts.xliff, { params: { id }, query: { language, whole } }));
    });
  const bring = (file: File) =>
    void work(async () => {
      await flush();
      const { words } = await handOver(broadcasts.readXliff, { params: { id }, query: { language } }, file);
      write(words);
      say(`The ${languageName(language)} words are those of the file.`);
    });
  return (
    <>
      <Row small>
        <Bit soft>For a translator, as XLIFF:</Bit>
        <Way small onClick={() => take('yes')}>
          take the file
        </Way>
        {begun && (
          <Way small onClick={() => take('no')}>
            without the words there are
          </Way>
        )}
        <FileButton
          variant="quiet"
          label={`Translation into ${languageName(language)}`}
          accept=".xlf,.xliff"
          disabled={busy}
          chosen={bring}
        >
          Bring it in
        </FileButton>
      </Row>
      <Trouble error={error} />
    </>
  );
}
