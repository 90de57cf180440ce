import { calledOf } from '../../../core/plan/draft/called';
import { Button } from '@mui/material';
import { useEffect, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { broadcasts, type StepPerson } from '../../../core/api/sending/broadcasts';
import { ask } from '../../api/client';
import { heading } from '../../people/for-others';
import { Search } from '../../pieces/form/Search';
import { DataTable, type Column as TableColumn } from '../../pieces/table/DataTable';
import { count, people as peopleWords } from '../../pieces/format';
import { Bit, Column, End, Head, Pane, Panes, Row } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { Nothing, Trouble, useSettled, useTitle, Waiting } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import { LEFT_OUT_WORDS, type LeftOutStep } from '../../../core/plan/reach/reach';
import { untick, untickedCount } from './audience-words';
import { useDraft } from '../sheet/draft-state';
import { Ledger } from './Ledger';

const TITLES: Record<string, string> = {
  chosen: 'Chosen',
  will_get: 'Will get it',
  named_twice: 'Named twice, counted once',
  call_list: 'Call list: those who cannot be texted',
  unworded: 'Get the words of another language',
  barred: 'Must not hear about a dependant of theirs',
  names_all: 'All of their dependants are named',
  other_name: 'Here under another name',
  texted_much: 'Texted much lately',
  quiet: 'Wait until quiet hours end',
  spilled: 'Wait for the sender',
};
const PAGE = 200;

/** The columns of a step. @param untick takes somebody out of this broadcast, where that can be */
function columnsOf(
  rows: readonly StepPerson[],
  calling: boolean,
  untick: ((person: StepPerson) => void) | undefined,
): TableColumn<StepPerson>[] {
  const withDependants = rows.some((person) => person.dependants.length > 0);
  return [
    {
      key: 'name',
      heading: 'Name',
      cell: (person) =>
        person.id === null ? (
          person.name || <Bit soft>nobody in the address book</Bit>
        ) : (
          <Way to={`/people/${person.id}`}>{person.name || 'no name'}</Way>
        ),
    },
    { key: 'number', heading: calling ? 'Number' : 'Text number', nobreak: true, cell: (person) => showPhone(person.number) },
    ...(calling ? [{ key: 'others', heading: 'Other numbers', cell: (person: StepPerson) => person.other_numbers }] : []),
    ...(withDependants ? [{ key: 'about', heading: 'About', cell: (person: StepPerson) => person.dependants.join(', ') }] : []),
    { key: 'why', heading: 'Why', cell: (person) => <Bit soft>{person.why}</Bit> },
    ...(untick
      ? [
          {
            key: 'untick',
            heading: '',
            said: 'Untick',
            num: true,
            cell: (person: StepPerson) => (
              <Way small screenOnly onClick={() => untick(person)}>
                untick for this one
              </Way>
            ),
          },
        ]
      : []),
  ];
}

/** The reach ledger as a view of its own: every chosen person accounted for, step by step. */
export default function Reach() {
  const id = Number(useParams().id);
  const [params] = useSearchParams();
  const step = params.get('step') ?? 'will_get';
  const state = useDraft(id);
  const [typed, setTyped] = useState('');
  const search = useSettled(typed, 200);
  const [skip, setSkip] = useState(0);
  const [page, setPage] = useState<{ total: number; people: StepPerson[] }>();
  const [error, setError] = useState<unknown>();
  useTitle('Reach');
  const draft = useSettled(state.draft, 180);
  useEffect(() => setSkip(0), [step, search]);
  useEffect(() => {
    if (!draft) return;
    let current = true;
    ask(broadcasts.people, { params: { id }, body: { draft, step, skip, search } })
      .then((answer) => current && (setPage(answer), setError(undefined)))
      .catch((refused: unknown) => current && setError(refused));
    return () => {
      current = false;
    };
  }, [id, draft, step, skip, search]);
  if (!state.draft || !state.plan) {
    const trouble = state.error ?? state.uncounted;
    return trouble ? (
      <Pane>
        <Trouble error={trouble} />
      </Pane>
    ) : (
      <Waiting what="Counting…" />
    );
  }
  const title = heading(
    TITLES[step] ??
      LEFT_OUT_WORDS[step as LeftOutStep] ??
      (step.startsWith('missing_') ? `No “${step.slice('missing_'.length)}”` : step),
  );
  const editable = state.answer?.state === 'draft' || state.answer?.state === 'set_aside';
  const calling = step === 'call_list';
  const { draft: current, change } = state;
  const columns = columnsOf(
    page?.people ?? [],
    calling,
    step === 'will_get' && editable ? (person) => change(untick(current, person)) : undefined,
  );
  return (
    <>
      <Head>
        <h1>Reach</h1>
        <Bit soft>{calledOf({ name: state.name, words: state.draft.words }) || 'New broadcast'}</Bit>
        <End>
          {calling && <Button onClick={() => window.print()}>Print the call list</Button>}
          <Button component={Link} to={`/broadcasts/${id}`}>
            Back to the sheet
          </Button>
        </End>
      </Head>
      <Panes columns="280px minmax(0, 1fr)">
        <Pane as="aside" screenOnly aria-label="Steps">
          <Ledger plan={state.plan} on={step} stepped stepTo={(to) => `/broadcasts/${id}/reach?step=${to}`} />
          <Column small above={12} gap={6}>
            <Way to={`/broadcasts/${id}/reach?step=call_list`}>call list of those who cannot be texted</Way>
            {untickedCount(state.draft) > 0 && editable && (
              <Way onClick={() => state.change({ unticked: [], unticked_numbers: [] })}>
                tick all {count(untickedCount(state.draft))} again
              </Way>
            )}
          </Column>
        </Pane>
        <Pane as="section" fill aria-label={title}>
          <Row between pad="12px 18px 6px">
            <h2>
              {title}
              {page ? `, ${peopleWords(page.total)}` : ''}
            </h2>
            <Search
              width={220}
              screenOnly
              label="Find by name or number"
              placeholder="Name or number"
              value={typed}
              onChange={setTyped}
            />
          </Row>
          <Column grow pad="0 18px" gap={0}>
            <DataTable
              label={`People: ${title}`}
              columns={columns}
              rows={page?.people ?? []}
              idOf={(person) => `${person.id ?? ''}${person.number ?? ''}${person.name}`}
              loading={page === undefined && !error}
              error={error}
              empty={
                <Nothing title="Nobody">
                  {search ? `Nobody in this step matches “${search}”.` : 'Nobody is in this step.'}
                </Nothing>
              }
            />
          </Column>
          {page && page.total > PAGE && (
            <Row line screenOnly pad="8px 18px">
              <Button disabled={skip === 0} onClick={() => setSkip(Math.max(0, skip - PAGE))}>
                Before
              </Button>
              <Bit small soft>
                {count(skip + 1)} to {count(Math.min(page.total, skip + PAGE))} of {count(page.total)}
              </Bit>
              <Button disabled={page.total <= skip + PAGE} onClick={() => setSkip(skip + PAGE)}>
                Next
              </Button>
            </Row>
          )}
        </Pane>
      </Panes>
    </>
  );
}
