import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { imports, UNDO_DAYS, type ImportState, type Verdict } from '../../../core/api/people/imports';
import type { PreparedRow } from '../../../core/people/prepare';
import { ask, useAct, useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { count, people } from '../../pieces/format';
import { Progress } from '../../pieces/chart/Progress';
import { Trouble, useNow } from '../../pieces/small';
import type { Change, RowFilter, Staged } from './staged';
import { useForBroadcast, type BroadcastGoal } from './for-broadcast';
import { Policies } from './BenchPolicies';
import { Press, useDecision } from './BenchPress';
import { Stored } from './BenchStored';
import type { Sources } from '../sources';
import { Bit, Column, Fact, Pane, Words } from '../../pieces/layout';
import { AskingWay } from '../../pieces/Sure';
import { Way } from '../../pieces/ways';

/** What is read and chosen; it scrolls by itself, so that the decision never lies over it. */
const Reading = styled(Column)(({ theme }) => ({
  flex: 1,
  minHeight: 0,
  overflow: 'auto',
  padding: '14px 16px',
  [theme.breakpoints.down('md')]: { overflow: 'visible' },
}));
const OUTCOMES: readonly [Verdict, string][] = [
  ['new', 'new people'],
  ['changed', 'changed'],
  ['unchanged', 'unchanged'],
  ['twice', 'same number twice'],
  ['set_aside', 'left out by you'],
  ['rejected', 'rejected'],
];

const TITLES: Partial<Record<ImportState, string>> = {
  open: 'What will happen',
  done: 'What was done',
  writing: 'Being written',
  undoing: 'Being undone',
  undone: 'Undone',
  once: 'Used once',
};

/** What will happen, by whose choice, one person as they will be stored, and the decision. */
export function BenchOutcome({
  staged,
  open,
  busy,
  error,
  shown,
  sources,
  change,
  see,
  work,
}: {
  staged: Staged;
  open: boolean;
  busy: boolean;
  error: unknown;
  shown: { no: number; stored: PreparedRow; known: boolean } | undefined;
  sources: Sources | undefined;
  change: Change;
  see: (filter: RowFilter) => void;
  work: (task: () => Promise<Staged | undefined>) => Promise<void>;
}) {
  const navigate = useNavigate();
  const { counts, settings, facts, id } = staged;
  const [list, setList] = useState<string>();
  const goal = useForBroadcast();
  const takeOnce = useAct(imports.useOnce);
  const drop = useAct(imports.giveUp);
  const checking = open && staged.at_row > 0;
  const going = (counts.new ?? 0) + (counts.changed ?? 0);
  const last = Math.max(1, facts.last ?? 1);
  const decide = useDecision({ staged, busy, checking, going, list: list ?? settings.list, change, work });
  const once = () =>
    work(async () => {
      const made = await takeOnce({ params: { id }, body: goal.id === undefined ? {} : { broadcast_id: goal.id } });
      await navigate(`/broadcasts/${made.broadcast_id}`);
      return undefined;
    });
  const giveUp = () =>
    work(async () => {
      await drop({ params: { id } });
      await navigate(`/people/bring-in${goal.search}`);
      return undefined;
    });
  const title = TITLES[staged.state];
  return (
    <Pane as="aside" card fill aria-label="What will happen">
      <Reading gap={10}>
        <h2>{title}</h2>
        {checking && (
          <Words small role="status">
            Checking row {count(staged.at_row)} of {count(last + 1)}
            <Progress label="Checking the rows" done={staged.at_row} of={last} />
          </Words>
        )}
        <Words aria-live="polite" soft={checking} aria-busy={checking}>
          {OUTCOMES.filter(([verdict]) => verdict !== 'set_aside' || counts.set_aside > 0).map(([verdict, words]) => (
            <Fact tight key={verdict}>
              <Bit brick={verdict === 'rejected' && counts.rejected > 0}>
                {verdict === 'twice' && settings.shared_number === 'by_name' ? 'same person twice' : words}
              </Bit>
              <Way fig figure="line" brick={verdict === 'rejected' && counts.rejected > 0} onClick={() => see({ verdict })}>
                {count(counts[verdict] ?? 0)}
              </Way>
            </Fact>
          ))}
          {counts.waiting > 0 && (
            <Words as="p" soft small>
              {count(counts.waiting)} of the rejected {counts.waiting === 1 ? 'waits' : 'wait'} for your fix.
            </Words>
          )}
          {counts.dependants > 0 && (
            <Words as="p" small>
              About {count(counts.dependants)} {counts.dependants === 1 ? 'dependant' : 'dependants'}
              {counts.second_contacts > 0 ? `, ${count(counts.second_contacts)} with a second contact` : ''}.
            </Words>
          )}
        </Words>
        {open ? (
          <>
            {shown ? (
              <Stored shown={shown} sources={sources} settings={settings} />
            ) : (
              <Words as="p" soft small>
                Choose a row to see that person as stored.
              </Words>
            )}
            <Policies staged={staged} sources={sources} change={change} list={list ?? settings.list} setList={setList} />
          </>
        ) : (
          <Decided staged={staged} error={error} work={work} goal={goal} />
        )}
      </Reading>
      {open && (
        <Press
          error={error}
          settings={settings}
          going={going}
          busy={busy}
          checking={checking}
          counts={counts}
          decide={decide}
          once={once}
          goal={goal}
          giveUp={giveUp}
        />
      )}
    </Pane>
  );
}

/** After the decision: progress, the way on, and the way back. */
function Decided({
  staged,
  error,
  work,
  goal,
}: {
  staged: Staged;
  error: unknown;
  work: (task: () => Promise<Staged | undefined>) => Promise<void>;
  goal: BroadcastGoal;
}) {
  const navigate = useNavigate();
  const { id, facts, settings } = staged;
  const { offset } = useDesk();
  const now = useNow(offset, 60_000);
  // as long as its rows are kept it can be undone, and no longer
  const recent = now - Date.parse(staged.decided_at ?? staged.created_at) < UNDO_DAYS * 86_400_000;
  const make = useAct(broadcasts.make);
  const save = useAct(broadcasts.save);
  const takeBack = useAct(imports.undo);
  const kept = useGet(imports.kept, staged.state === 'undone' && facts.kept ? { params: { id } } : undefined).data?.people;
  const write = () =>
    work(async () => {
      const made = await make({ body: { name: '', list_id: facts.list_id } });
      await navigate(`/broadcasts/${made.id}`);
      return undefined;
    });
  /** Beside whom it goes to already. */
  const addTo = (broadcast: number, list: number) =>
    work(async () => {
      const { name, draft, version } = await ask(broadcasts.get, { params: { id: broadcast } });
      await save({
        params: { id: broadcast },
        body: { name, version, draft: { ...draft, to: [...draft.to, { kind: 'list', id: list }] } },
      });
      await navigate(`/broadcasts/${broadcast}`);
      return undefined;
    });
  const undo = () =>
    work(async () => {
      await takeBack({ params: { id } });
      return undefined;
    });
  return (
    <Column>
      {staged.state === 'writing' && (
        <Words role="status">
          Row {count(Math.min(Math.max(0, staged.written_row + 1), (facts.last ?? staged.row_count) + 1))} of{' '}
          {count((facts.last ?? staged.row_count) + 1)}. It goes on by itself, also after a restart.
          <Progress label="Writing" done={Math.max(0, staged.written_row)} of={Math.max(1, facts.last ?? 1)} />
        </Words>
      )}
      {staged.state === 'undoing' && <p role="status">It goes on by itself, also after a restart.</p>}
      {staged.state === 'done' && <p role="status">Done.{recent && ' Rejected rows stay in the rejects file.'}</p>}
      {facts.differs && (
        <p role="alert">
          {count(facts.differs.said)} rows were to come in, and {count(facts.differs.wrote)} did. Undo it and bring the file in
          again.
        </p>
      )}
      {staged.state === 'once' && <p>Its people are in one broadcast and not in the address book.</p>}
      {staged.state === 'undone' && (
        <p role="status">
          Taken back.
          {facts.kept && facts.kept.texted + facts.kept.changed > 0
            ? ` ${people(facts.kept.texted + facts.kept.changed)} stayed as they are: ${count(facts.kept.texted)} texted since, ${count(facts.kept.changed)} changed since.`
            : ' Everything is as it was before.'}{' '}
          Numbers that opted out stay out.
        </p>
      )}
      {(kept ?? []).length > 0 && (
        <Words as="ul" small>
          {(kept ?? []).map((person) => (
            <li key={person.id}>
              <Way to={`/people/${person.id}`}>{person.name || person.number}</Way> <Bit soft>{person.why}</Bit>
            </li>
          ))}
        </Words>
      )}
      {staged.state === 'done' && facts.list_id !== undefined && (
        <Button
          variant="contained"
          size="medium"
          onClick={() => void (goal.id !== undefined && facts.list_id !== undefined ? addTo(goal.id, facts.list_id) : write())}
        >
          {goal.id !== undefined ? `Add “${settings.list}” to the broadcast` : `Write to “${settings.list}”`}
        </Button>
      )}
      {staged.state === 'done' && <Way to={facts.list_id ? `/people?list=${facts.list_id}` : '/people'}>See them in People</Way>}
      {staged.state === 'done' && !recent && (
        <Words small soft>
          It was brought in more than {UNDO_DAYS} days ago: it cannot be undone any more.
        </Words>
      )}
      {staged.state === 'done' && recent && (
        <AskingWay says="Undo this import…" title="Undo this import?" act="Undo the import" confirm={() => void undo()}>
          New people go again, changed ones get back what they had. Who was texted or changed since stays, and you are told who.
        </AskingWay>
      )}
      <Trouble error={error} />
    </Column>
  );
}
