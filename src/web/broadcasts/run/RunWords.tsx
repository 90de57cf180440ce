import { languageName } from '../../pieces/format';
import { Bit, Column, TextBox, Words } from '../../pieces/layout';
import { InWords } from '../../pieces/words/InWords';

/** What a run said, in each language that it had words in: as they were when it was agreed. */
export function RunWords({ words }: { words: Readonly<Record<string, string>> }) {
  const said = Object.entries(words).filter(([, text]) => text !== '');
  return (
    <section aria-label="Words">
      <Words as="h2" under below={8}>
        What it said
      </Words>
      {said.map(([language, text]) => (
        <Column gap={3} key={language} above={8}>
          {said.length > 1 && (
            <Bit soft small>
              {languageName(language)}
            </Bit>
          )}
          <TextBox small pad="6px 10px">
            <InWords words={text} />
          </TextBox>
        </Column>
      ))}
      {said.length === 0 && <Bit soft>not kept</Bit>}
    </section>
  );
}
