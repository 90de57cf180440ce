import { Button, TextField } from '@mui/material';
import { useRef, useState, type ReactNode } from 'react';
import { people } from '../../core/api/people/people';
import { templates, type PreparedKind, type PreparedText } from '../../core/api/sending/templates';
import type { LinkSpec } from '../../core/plan/draft/links';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { Editor, useEditorKnows, Links } from '../broadcasts/for-others';
import { Shown } from '../pieces/form/choices';
import { languageName } from '../pieces/format';
import { useUnsaved } from '../pieces/form/unsaved';
import { Bit, Column, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble } from '../pieces/small';
import { AskingWay } from '../pieces/Sure';
import { KINDS } from './kinds';
import { FolderField } from './KeepWords';

interface Edited {
  folder: string;
  name: string;
  words: Record<string, string>;
  links: LinkSpec[];
}

/** One template or piece: its name, its folder, its words in each language, its links. */
export function PreparedForm({
  kind,
  text,
  copied,
  may,
  close,
  made,
}: {
  kind: PreparedKind;
  /** What is changed; a new one without it. */
  text: PreparedText | undefined;
  copied: PreparedText | undefined;
  may: boolean;
  close: () => void;
  made: (id: number) => void;
}): ReactNode {
  const { workspace } = useDesk();
  const { edited, set, ready, keep, touched, setTouched, work, busy, error } = useEdited({ kind, text, copied, made });
  const sources = useGet(people.sources, {}, { keep: true }).data;
  const [language, setLanguage] = useState(workspace.languages[0]);
  const insert = useRef<((words: string) => void) | undefined>(undefined);
  const knows = useEditorKnows({
    sources,
    words: Object.values(edited.words).join(' '),
    language,
    links: edited.links,
    ofWriter: kind !== 'answer',
    answering: kind === 'answer',
  });
  return (
    <Column gap={12}>
      <Row between>
        <h2>{text ? text.name : KINDS[kind].fresh}</h2>
        <Button variant="quiet" onClick={close}>
          Close
        </Button>
      </Row>
      <Row nowrap starts>
        <TextField
          label="Name"
          disabled={!may}
          value={edited.name}
          autoFocus={text === undefined}
          onChange={(event) => set({ name: event.target.value.slice(0, 80) })}
        />
        {kind === 'template' && may && (
          <FolderField folder={edited.folder} change={(folder) => folder !== edited.folder && set({ folder })} />
        )}
      </Row>
      <Row between>
        <h3 id="prepared-words">Words</h3>
        {may && <Button onClick={() => insert.current?.('{')}>Put in a field</Button>}
      </Row>
      <Tongues language={language} edited={edited} setLanguage={setLanguage} />
      <Editor
        key={language}
        {...knows}
        value={edited.words[language] ?? ''}
        onChange={(words) => set({ words: { ...edited.words, [language]: words } })}
        language={language}
        labelledBy="prepared-words"
        readOnly={!may}
        handle={insert}
      />
      {kind === 'template' && may && (
        <>
          <h3>Links</h3>
          <Links
            draft={{ link: null, links: edited.links }}
            change={({ links }) => set({ links: links ?? [] })}
            putIn={(source) => insert.current?.(source)}
          />
        </>
      )}
      <Words soft small>
        Broadcasts take up a copy: changing this changes nothing that is written, scheduled or sent.
      </Words>
      <Trouble error={error} />
      <Ending
        may={may}
        busy={busy}
        ready={ready}
        touched={touched}
        keep={keep}
        text={text}
        kind={kind}
        work={work}
        setTouched={setTouched}
        close={close}
      />
    </Column>
  );
}

/** What is being changed, not yet kept: it is kept at a press, and a page that is left asks before it is lost. */
function useEdited({ kind, text, copied, made }: Pick<Parameters<typeof PreparedForm>[0], 'kind' | 'text' | 'copied' | 'made'>) {
  const say = useSay();
  const make = useAct(templates.make);
  const save = useAct(templates.change);
  const { work, busy, error } = useWork();
  const from = text ?? copied;
  const [edited, setEdited] = useState<Edited>({
    folder: from?.folder ?? '',
    name: text?.name ?? (copied ? `${copied.name}, copy` : ''),
    words: from?.words ?? {},
    links: from?.links ?? [],
  });
  const [touched, setTouched] = useState(copied !== undefined);
  useUnsaved(touched && !busy);
  const set = (part: Partial<Edited>) => {
    setEdited({ ...edited, ...part });
    setTouched(true);
  };
  const ready = edited.name.trim() !== '' && Object.values(edited.words).some((words) => words.trim() !== '');
  const keep = () =>
    void work(async () => {
      const body = { ...edited, folder: edited.folder.trim() };
      setTouched(false);
      try {
        if (text) await save({ params: { id: text.id }, body: { ...body, version: text.version } });
        else made((await make({ body: { ...body, kind } })).id);
      } catch (refused) {
        setTouched(true);
        throw refused;
      }
      say(`“${edited.name.trim()}” is kept.`);
    });
  return { edited, set, ready, keep, touched, setTouched, work, busy, error };
}

/** In which language the words that stand below are. */
function Tongues({
  language,
  edited,
  setLanguage,
}: {
  language: string;
  edited: Edited;
  setLanguage: (language: string) => void;
}) {
  const { workspace } = useDesk();
  return (
    <>
      {workspace.languages.length > 1 && (
        <Shown
          label="Language of the words"
          value={language}
          options={workspace.languages.map((each) => [
            each,
            <span key={each}>
              {languageName(each)}
              <Bit soft small>
                {(edited.words[each] ?? '').trim() === '' ? ' no words' : ''}
              </Bit>
            </span>,
          ])}
          onChange={setLanguage}
        />
      )}
    </>
  );
}

/** Kept, or thrown away. */
function Ending({
  may,
  busy,
  ready,
  touched,
  keep,
  text,
  kind,
  work,
  setTouched,
  close,
}: {
  may: boolean;
  busy: boolean;
  ready: boolean;
  touched: boolean;
  keep: () => void;
  text: PreparedText | undefined;
  kind: PreparedKind;
  work: (what: () => Promise<unknown>) => Promise<boolean>;
  setTouched: (touched: boolean) => void;
  close: () => void;
}) {
  const remove = useAct(templates.remove);
  const say = useSay();
  const make = useAct(templates.make);
  return (
    <>
      {may && (
        <Row between>
          <Button variant="contained" disabled={busy || !ready || !touched} onClick={keep}>
            Save
          </Button>
          {text && (
            <AskingWay
              brick
              says="delete…"
              title={`Delete “${text.name}”?`}
              act={`Delete the ${KINDS[kind].one}`}
              confirm={() =>
                void work(async () => {
                  setTouched(false);
                  await remove({ params: { id: text.id } });
                  close();
                  const { kind: of, folder, name, words, links } = text;
                  say(`“${name}” is deleted.`, () => void make({ body: { kind: of, folder, name, words, links } }));
                })
              }
            >
              What was written with it stays as it is.
            </AskingWay>
          )}
        </Row>
      )}
    </>
  );
}
