import { Button } from '@mui/material';
import { lazy, Suspense, useMemo, useRef, useState } from 'react';
import type { Sources } from '../../../core/api/people/people';
import type { PlanSummary, ProofText } from '../../../core/api/sending/plan';
import { readQuestion } from '../../../core/outcome/question';
import type { Draft } from '../../../core/plan/draft/draft';
import { linksOf } from '../../../core/plan/draft/links';
import { useDesk } from '../../api/session';
import { Bit, Column, Row, TextBox, Words } from '../../pieces/layout';
import { Way } from '../../pieces/ways';
import { InWords } from '../../pieces/words/InWords';
import { Editor, type Offer } from './Editor';
import { useEditorKnows } from './editor-knows';
import { Languages } from './Languages';
import { Links } from './Links';
import { Forcing, Measure } from './Measure';
import { Shorter } from './Shorter';

const Codes = lazy(() => import('../../codes/Codes').then(({ Codes: default_ }) => ({ default: default_ })));
const Emoji = lazy(() => import('./Emoji'));
const TakeUp = lazy(() => import('../../templates/TakeUp'));

/** The words, their live measure, what forces extended characters and what that costs, opt-out wording, links. */
export function WordsPane({
  id,
  flush,
  draft,
  plan,
  sources,
  change,
  reader,
  language,
  setLanguage,
  seeProofs,
}: {
  id: number;
  flush: () => Promise<unknown>;
  draft: Draft;
  plan: PlanSummary | undefined;
  sources: Sources | undefined;
  change: (part: Partial<Draft>) => void;
  /** Whose text the proof shows: what can be put in says what it gives for them. */
  reader: ProofText | undefined;
  /** Whose words are shown. */
  language: string;
  setLanguage: (language: string) => void;
  /** Steps through the proofs of these: `parts_3`. */
  seeProofs: (which: string) => void;
}) {
  const { workspace } = useDesk();
  const insert = useRef<((text: string) => void) | undefined>(undefined);
  const opened = useOpened();
  const [shorter, setShorter] = useState(false);
  const links = linksOf(draft);
  const [first] = workspace.languages;
  const words = language === first ? draft.words : (draft.translations?.[language] ?? '');
  const write = (next: string) =>
    change(language === first ? { words: next } : { translations: { ...draft.translations, [language]: next } });
  const knows = useEditorKnows({
    sources,
    words: [draft.words, ...Object.values(draft.translations ?? {})].join(' '),
    language,
    links,
    reader,
    sender: plan?.sender?.name,
    replyDays: plan?.sender?.reply_days,
    codes: typeof draft.code_list_id === 'number',
    fromFile: draft.to.some((source) => source.kind === 'file'),
  });
  // what is not there yet can be made from where it is looked for
  const making: readonly Offer[] = [
    { group: 'Links', label: 'a new link', insert: '', gives: 'opens its form', act: () => opened.setLinking(true) },
    ...(typeof draft.code_list_id === 'number'
      ? []
      : [
          {
            group: 'Codes',
            label: 'one-time codes of a list',
            insert: '',
            gives: 'opens the lists',
            act: () => opened.setCoding(true),
          },
        ]),
  ];
  const asks = useMemo(() => readQuestion(words), [words]);
  return (
    <Column gap={10}>
      <WordsHead insert={insert} opened={opened} hasLinks={links.length > 0} />
      <Sheets insert={insert} opened={opened} draft={draft} plan={plan} change={change} language={language} />
      {opened.linking && <Links draft={draft} change={change} putIn={(source) => insert.current?.(source)} />}
      {draft.corrects && <Before says="It puts right" way="what they got" earlier={draft.corrects} />}
      {draft.thanks_for && <Before says="It thanks for answers to" way="this" earlier={draft.thanks_for} />}
      {workspace.languages.length > 1 && (
        <Languages id={id} flush={flush} draft={draft} plan={plan} language={language} setLanguage={setLanguage} write={write} />
      )}
      <Editor
        // a language has its own words and its own undoing
        key={language}
        value={words}
        onChange={write}
        {...knows}
        offers={[...knows.offers, ...making]}
        language={language}
        labelledBy="words-label"
        readOnly={false}
        handle={insert}
      />
      <Forcing draft={draft} plan={plan} change={change} />
      <Measure draft={draft} words={words} language={language} plan={plan} change={change} seeProofs={seeProofs} />
      {asks && (
        <Words soft small>
          asks {asks.map((label, i) => `${i + 1} ${label}`).join(', ')}: answers are counted by themselves, doubtful ones are
          shown to you
        </Words>
      )}
      {words.trim() !== '' && (
        <Row small>
          <Way small aria-expanded={shorter} onClick={() => setShorter(!shorter)}>
            {shorter ? 'no more proposals' : 'say it shorter'}
          </Way>
        </Row>
      )}
      {shorter && words.trim() !== '' && <Shorter id={id} draft={draft} language={language} words={words} write={write} />}
    </Column>
  );
}

/** Puts words in at the cursor; nothing while there is no editor. */
interface Insert {
  current: ((text: string) => void) | undefined;
}

/** What is open above and below the words. */
function useOpened() {
  const [linking, setLinking] = useState(false);
  const [taking, setTaking] = useState(false);
  const [coding, setCoding] = useState(false);
  const [emoji, setEmoji] = useState<HTMLElement>();
  return { linking, setLinking, taking, setTaking, coding, setCoding, emoji, setEmoji };
}
type Opened = ReturnType<typeof useOpened>;

/** What can be put in. */
function WordsHead({ insert, opened, hasLinks }: { insert: Insert; opened: Opened; hasLinks: boolean }) {
  const { linking, setLinking, setTaking, coding, setCoding, setEmoji } = opened;
  return (
    <Row between>
      <h2 id="words-label">Words</h2>
      <Row>
        <Button onClick={() => insert.current?.('{')}>Put in a field</Button>
        <Button aria-haspopup="dialog" aria-label="Emoji" title="Emoji" onClick={(event) => setEmoji(event.currentTarget)}>
          ☺
        </Button>
        <Button onClick={() => setTaking(true)} aria-haspopup="dialog">
          Prepared words
        </Button>
        <Button onClick={() => setLinking(!linking)} aria-expanded={linking}>
          {hasLinks ? 'Links' : 'Add a link'}
        </Button>
        <Button onClick={() => setCoding(!coding)} aria-expanded={coding}>
          Codes
        </Button>
      </Row>
    </Row>
  );
}

/** What is open above the words: emoji, prepared words, codes. */
function Sheets({
  insert,
  opened: { emoji, setEmoji, taking, setTaking, coding },
  draft,
  plan,
  change,
  language,
}: {
  insert: Insert;
  opened: Opened;
  draft: Draft;
  plan: PlanSummary | undefined;
  change: (part: Partial<Draft>) => void;
  language: string;
}) {
  return (
    <>
      {emoji && (
        <Suspense>
          <Emoji anchor={emoji} put={(each) => insert.current?.(each)} close={() => setEmoji(undefined)} />
        </Suspense>
      )}
      {taking && (
        <Suspense>
          <TakeUp
            draft={draft}
            change={change}
            putIn={(source) => insert.current?.(source)}
            language={language}
            close={() => setTaking(false)}
          />
        </Suspense>
      )}
      {coding && (
        <Suspense>
          <Codes draft={draft} plan={plan} change={change} putIn={(source) => insert.current?.(source)} />
        </Suspense>
      )}
    </>
  );
}

/** What an earlier run said, to be looked at beside these words. */
function Before({ says, way, earlier }: { says: string; way: string; earlier: { run_id: number; words: string } }) {
  return (
    <Column gap={2}>
      <Row small base gap={6}>
        <Bit soft>{says}</Bit>
        <Way small to={`/runs/${earlier.run_id}`}>
          {way}
        </Way>
      </Row>
      <TextBox small pad="6px 10px">
        <InWords words={earlier.words} />
      </TextBox>
    </Column>
  );
}
