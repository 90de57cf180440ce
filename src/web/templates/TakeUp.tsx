import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { WRITER_FIELDS } from '../../core/merge/writer-fields';
import type { Draft } from '../../core/plan/draft/draft';
import { linksOf } from '../../core/plan/draft/links';
import { takeUp } from '../../core/plan/draft/take-up';
import { useDesk } from '../api/session';
import { InWords } from '../pieces/words/InWords';
import { Shown } from '../pieces/form/choices';
import { Search } from '../pieces/form/Search';
import { languageName } from '../pieces/format';
import { Bit, Column, Panes, Row, TextBox, Words } from '../pieces/layout';
import { Pager } from '../pieces/table/Pager';
import { showPhone } from '../pieces/phone';
import { useSay } from '../pieces/Said';
import { Trouble, useSettled } from '../pieces/small';
import { Way } from '../pieces/ways';
import { KeepWords } from './KeepWords';
import { ReadyList, usePrepared, type Ready } from './ready';

const KINDS = [
  ['template', 'Templates'],
  ['earlier', 'Sent before'],
  ['piece', 'Saved pieces'],
] as const;
type Kind = (typeof KINDS)[number][0];
const PAGE = 100;

/** Words that are there already: templates, whatever was sent before, saved pieces. Taken up, they are the draft's own. */
export default function TakeUp({
  draft,
  change,
  putIn,
  language,
  close,
}: {
  draft: Draft;
  change: (part: Partial<Draft>) => void;
  /** Puts words in at the cursor. */
  putIn: (words: string) => void;
  /** Of the words that are shown on the sheet. */
  language: string;
  /** What can be put in, by its name in words. */
  close: () => void;
}): ReactNode {
  const { workspace } = useDesk();
  const [kind, setKind] = useState<Kind>('template');
  const [typed, setTyped] = useState('');
  const [skip, setSkip] = useState(0);
  const search = useSettled(typed.trim(), 200) || undefined;
  const prepared = usePrepared(kind, search, skip);
  const [chosenId, setChosen] = useState<string>();
  const [shownIn, setShownIn] = useState<string>();
  const [keeping, setKeeping] = useState(false);
  const chosen = prepared.list?.find(({ key }) => key === chosenId) ?? prepared.list?.[0];
  const [first] = workspace.languages;
  const spoken = chosen ? Object.keys(chosen.words) : [];
  const shown = [shownIn, language, first, ...spoken].find((each) => each !== undefined && spoken.includes(each)) ?? first;
  const take = useTaking(draft, change, close);
  const put = (ready: Ready) => {
    putIn(ready.words[language] ?? ready.words[first] ?? '');
    close();
  };
  return (
    <Dialog open onClose={close} fullWidth maxWidth="md" aria-labelledby="prepared-title">
      <DialogTitle id="prepared-title">Prepared words</DialogTitle>
      <DialogContent>
        <Row between below={8}>
          <Shown
            label="Which words"
            value={kind}
            options={KINDS}
            onChange={(next) => {
              setKind(next);
              setSkip(0);
              setKeeping(false);
            }}
          />
          <Search
            width={240}
            label="Find by name or words"
            placeholder="Name, words"
            value={typed}
            onChange={(next) => {
              setTyped(next);
              setSkip(0);
            }}
          />
        </Row>
        {/* of one height: nothing jumps from kind to kind */}
        <Panes columns="300px minmax(0, 1fr)">
          <Column gap={0} scrolls pad="0 12px 0 0" height={380}>
            <ReadyList
              label={KINDS.find(([key]) => key === kind)?.[1] ?? ''}
              list={prepared.list}
              chosen={chosen?.key}
              choose={setChosen}
              nothing={nothingWords(kind, search)}
            />
            <Pager skip={skip} page={PAGE} total={prepared.total} go={setSkip} />
            <Trouble error={prepared.error} />
          </Column>
          <Column gap={8} pad="0 0 0 16px">
            {chosen && (
              <Chosen
                ready={chosen}
                kind={kind}
                shown={shown}
                setShownIn={setShownIn}
                replaces={draft.words.trim() !== ''}
                use={kind === 'piece' ? put : take}
              />
            )}
            {keeping && (
              <KeepWords
                words={Object.fromEntries(
                  Object.entries({ ...draft.translations, [first]: draft.words }).filter(([, words]) => words.trim() !== ''),
                )}
                links={linksOf(draft)}
                kept={(kept) => {
                  setKeeping(false);
                  setKind(kept.kind === 'piece' ? 'piece' : 'template');
                  setTyped('');
                  setSkip(0);
                  setChosen(String(kept.id));
                }}
              />
            )}
          </Column>
        </Panes>
      </DialogContent>
      <DialogActions>
        {draft.words.trim() !== '' && !keeping && <Button onClick={() => setKeeping(true)}>Save these words…</Button>}
        <Button onClick={close}>Leave it</Button>
      </DialogActions>
    </Dialog>
  );
}

/** Makes words the draft's own, says what the account leaves unsaid in them, and offers those that stood there back. */
function useTaking(draft: Draft, change: (part: Partial<Draft>) => void, close: () => void): (ready: Ready) => void {
  const { account, workspace } = useDesk();
  const say = useSay();
  return (ready) => {
    const { words, translations, link, links, opt_out, dismissed } = draft;
    const before = { words, translations, link, links, opt_out, dismissed };
    const writer = { name: account.name, number: account.own_number ? showPhone(account.own_number) : '', place: account.place };
    const { part, missing } = takeUp(ready, workspace.languages, writer);
    change({ ...part, dismissed: undefined });
    const unsaid = WRITER_FIELDS.filter(({ slug }) => missing.includes(slug)).map(({ label }) => label);
    say(
      unsaid.length > 0
        ? `“${ready.name}” is taken up. Your account does not say: ${unsaid.join(', ')}.`
        : `“${ready.name}” is taken up; changing it here changes nothing there.`,
      () => change(before),
    );
    close();
  };
}

function nothingWords(kind: Kind, search: string | undefined): string {
  if (search !== undefined) return `Nothing ${kind === 'earlier' ? 'that was sent' : 'here'} has “${search}” in it.`;
  if (kind === 'template') return 'No template yet. Write words on the sheet, then keep them here.';
  if (kind === 'earlier') return 'Nothing was sent yet.';
  return 'No saved piece yet: a sign-off, a way to reach you, whatever is written again and again.';
}

/** The one that is looked at, in a language it has, and the way to use it. */
function Chosen({
  ready,
  kind,
  shown,
  setShownIn,
  replaces,
  use,
}: {
  ready: Ready;
  kind: Kind;
  shown: string;
  setShownIn: (language: string) => void;
  /** There are words on the sheet already. */
  replaces: boolean;
  use: (ready: Ready) => void;
}) {
  const spoken = Object.keys(ready.words);
  return (
    <>
      <Row between base>
        <h3>{ready.name}</h3>
        <Bit soft small>
          {ready.more}
        </Bit>
      </Row>
      {spoken.length > 1 && (
        <Shown
          label="Language of these words"
          value={shown}
          options={spoken.map((each) => [each, languageName(each)] as const)}
          onChange={setShownIn}
        />
      )}
      <TextBox scrolls>
        <InWords words={ready.words[shown] ?? ''} />
      </TextBox>
      {ready.links.map((link) => (
        <Words soft small key={link.name}>
          link {link.name}: {link.address}
        </Words>
      ))}
      <Row>
        <Button variant="contained" onClick={() => use(ready)}>
          {kind === 'piece' ? 'Put it in at the cursor' : replaces ? 'Take it up in place of the words there' : 'Take it up'}
        </Button>
        {kind !== 'earlier' && (
          <Way small to={`/broadcasts/templates?kind=${kind}&open=${ready.key}`}>
            change it
          </Way>
        )}
      </Row>
    </>
  );
}
