import { showPhone } from '../../pieces/phone';
import { Button } from '@mui/material';
import { useNavigate } from 'react-router';
import { broadcasts, type BroadcastAnswer } from '../../../core/api/sending/broadcasts';
import { people as peopleApi } from '../../../core/api/people/people';
import { mayDo } from '../../../core/api/roles';
import { calledOf } from '../../../core/plan/draft/called';
import { linksOf } from '../../../core/plan/draft/links';
import type { Draft } from '../../../core/plan/draft/draft';
import { repeatWords } from '../../../core/plan/times/repeat-words';
import { useAct, useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { count, languageName, people, when } from '../../pieces/format';
import { Bit, Column, End, Fact, Head, Pane, TextBox, Words } from '../../pieces/layout';
import { Trouble, useNow } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import { AboutLine } from '../audience/AboutLine';
import { SourceLine } from '../audience/SourceLine';
import { untickedCount } from '../audience/audience-words';
import { limitsInWords, whenInWords } from '../when/in-words';
import { ListName } from '../when/ListName';
import { InWords } from '../../pieces/words/InWords';
import { usePutBack } from './put-back';
import { SheetPanes, TallyPane } from './sheet-layout';

const STATES: Record<BroadcastAnswer['state'], string> = {
  draft: 'Draft',
  scheduled: 'Scheduled',
  set_aside: 'Set aside',
  canceled: 'Canceled',
  ended: 'Ended',
};
const OPT_OUTS: Record<Draft['opt_out'], string> = {
  in_text: 'How to opt out stands in the text.',
  link: 'A link to opt out stands in the text.',
  after: 'How to opt out follows as a text of its own.',
  none: 'The words say themselves how to opt out.',
};

/** A broadcast that is scheduled, or over: its sheet, to be read, and what can be done with it. */
export function ReadSheet({ broadcast }: { broadcast: BroadcastAnswer }) {
  const { draft } = broadcast;
  const sources = useGet(peopleApi.sources, {}, { keep: true }).data;
  const sender = broadcast.senders.find(({ id }) => id === draft.sender_id);
  const called = calledOf({ name: broadcast.name, words: draft.words });
  const unticked = untickedCount(draft);
  const { workspace } = useDesk();
  return (
    <>
      <Head>
        <h1>{called || 'A broadcast without words'}</h1>
        <Bit soft>{draft.purpose === 'service' ? 'service notice' : 'marketing'}</Bit>
        {broadcast.labels.map((label) => (
          <Bit soft small key={label}>
            {label}
          </Bit>
        ))}
        <End soft small role="status">
          {STATES[broadcast.state]}, to read
        </End>
      </Head>
      <SheetPanes>
        <Pane as="section" aria-label="To">
          <Words as="h2" below={4}>
            To
          </Words>
          <ul>
            {draft.to.map((source, at) => (
              <SourceLine key={`to${at}`} source={source} sources={sources} leaving={false} people={undefined} />
            ))}
            {draft.leave_out.map((source, at) => (
              <SourceLine key={`out${at}`} source={source} sources={sources} leaving people={undefined} />
            ))}
            <AboutLine id={broadcast.id} draft={draft} />
          </ul>
          <Column small soft gap={4} above={8}>
            {unticked > 0 && <span>{count(unticked)} unticked</span>}
            <span>As many as there are today; whom it went to stands in its run.</span>
          </Column>
        </Pane>
        <Pane as="section" aria-label="Words">
          <Column gap={12}>
            <h2>Words</h2>
            <ReadWords draft={draft} />
            <Words soft small>
              {OPT_OUTS[draft.opt_out]}
            </Words>
          </Column>
        </Pane>
        <Pane as="section" aria-label="When">
          <Column gap={8}>
            <h2>When</h2>
            <p>{whenInWords(draft, workspace.zone)}</p>
            {limitsInWords(draft).map((each) => (
              <p key={each}>{each}</p>
            ))}
            {sender && (
              <p>
                From {sender.name}, {showPhone(sender.address)}.
              </p>
            )}
          </Column>
        </Pane>
        <Acts broadcast={broadcast} />
      </SheetPanes>
    </>
  );
}

/** The words of each language, and where their links lead. */
function ReadWords({ draft }: { draft: Draft }) {
  const [first] = useDesk().workspace.languages;
  const worded = [[first, draft.words] as const, ...Object.entries(draft.translations ?? {})].filter(
    ([, words]) => words.trim() !== '',
  );
  return (
    <>
      {worded.map(([language, words]) => (
        <Column gap={4} key={language}>
          {worded.length > 1 && <h3>{languageName(language)}</h3>}
          <TextBox pad="8px 12px">
            <InWords words={words} />
          </TextBox>
        </Column>
      ))}
      {worded.length === 0 && <Words soft>There are no words.</Words>}
      {linksOf(draft).map(({ name, address }) => (
        <Words small key={name}>
          {name}: <Bit soft>{address || 'leads nowhere yet'}</Bit>
        </Words>
      ))}
    </>
  );
}

/** What it comes to, and what can be done with it now. */
function Acts({ broadcast }: { broadcast: BroadcastAnswer }) {
  const { id, run, state } = broadcast;
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 20_000);
  const navigate = useNavigate();
  const make = useAct(broadcasts.make);
  const setAside = useAct(broadcasts.setAside);
  const putBack = usePutBack(id);
  const { work, busy, error } = useWork();
  const pending = run && (run.state === 'waiting' || run.state === 'planning') ? run : undefined;
  const aside = (as: 'set_aside' | 'canceled') => void work(() => setAside({ params: { id }, body: { as } }));
  const copy = () =>
    void work(async () => {
      const made = await make({ body: { name: '', copy: id } });
      await navigate(`/broadcasts/${made.id}`);
    });
  const mayWrite = mayDo(account.role, 'write');
  return (
    <TallyPane aria-label="Tally" still>
      {run && (
        <Fact>
          <span>{pending ? 'people' : 'people of its last run'}</span>
          <Bit fig figure="line">
            {count(run.people)}
          </Bit>
        </Fact>
      )}
      {run && (
        <Fact>
          <span>{pending ? 'goes' : 'went'}</span>
          <Bit strong>{when(run.due_at, workspace.zone, now)}</Bit>
        </Fact>
      )}
      <Column gap={8} above={10} small>
        {state === 'scheduled' && broadcast.goes_on && <ComesAgain broadcast={broadcast} />}
        {state === 'scheduled' && (
          <p>While you edit it, it is set aside, and nothing of it goes. It can be put back as it was.</p>
        )}
        {state === 'canceled' && <p>It was canceled, and nothing more of it goes.</p>}
        <Trouble error={error} />
        {state === 'scheduled' && mayDo(account.role, 'send') && (
          <>
            <Button variant="contained" disabled={busy} onClick={() => aside('set_aside')}>
              Set aside and edit
            </Button>
            <Button disabled={busy} onClick={() => aside('canceled')}>
              {broadcast.goes_on ? 'Cancel all that is to come' : `Cancel it for ${people(run?.people ?? 0)}`}
            </Button>
          </>
        )}
        {state === 'canceled' && mayWrite && (
          <Button variant="contained" disabled={busy} onClick={() => void work(putBack)}>
            Put it back as it was
          </Button>
        )}
        {mayWrite && (
          <Button disabled={busy} onClick={copy}>
            Copy it
          </Button>
        )}
        {run && <Way to={`/runs/${run.id}`}>Open its run</Way>}
      </Column>
    </TallyPane>
  );
}

/** What comes of it by itself. */
function ComesAgain({ broadcast: { draft, next_at } }: { broadcast: BroadcastAnswer }) {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 20_000);
  const timing = draft.when;
  if (timing.kind === 'import')
    return (
      <p>
        It waits for imports: it goes whenever people have been brought into <ListName id={timing.list_id} />.
      </p>
    );
  if (timing.kind !== 'at' || !timing.repeats) return null;
  return (
    <p>
      It goes {repeatWords(timing.repeats, timing.date)}
      {next_at ? `; next after that ${when(next_at, workspace.zone, now)}` : ''}.
    </p>
  );
}
