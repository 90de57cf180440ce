import { Button } from '@mui/material';
import { useEffect, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { send } from '../api/client';
import { count, people as peopleWords } from '../pieces/format';
import { heading } from '../people/sources';
import { showPhone } from '../pieces/phone';
import { Trouble, useSettled, useTitle, Waiting } from '../pieces/small';
import { STEP_WORDS, untick, untickedCount, type Step } from './audience-words';
import { useDraft } from './draft-state';
import { Ledger } from './Ledger';

interface Someone {
  id: number | null;
  name: string;
  number: string | null;
  why: string;
  dependants: string[];
  other_numbers: string;
}

const TITLES: Record<string, string> = {
  chosen: 'Chosen',
  will_get: 'Will get it',
  named_twice: 'Named twice, counted once',
  call_list: 'Call list: those who cannot be texted',
};

/** The reach ledger as a view of its own: every chosen person accounted for, step by step. */
export default function Reach() {
  const id = Number(useParams().id);
  const [params] = useSearchParams();
  const step = params.get('step') ?? 'will_get';
  const state = useDraft(id);
  const [typed, setTyped] = useState('');
  const search = useSettled(typed, 200);
  const [skip, setSkip] = useState(0);
  const [page, setPage] = useState<{ total: number; people: Someone[] }>();
  const [error, setError] = useState<unknown>();
  useTitle('Reach');
  const draft = useSettled(state.draft, 180);
  useEffect(() => setSkip(0), [step, search]);
  useEffect(() => {
    if (!draft) return;
    let current = true;
    send<{ total: number; people: Someone[] }>('POST', `/api/broadcasts/${id}/people`, { draft, step, skip, search })
      .then((answer) => current && (setPage(answer), setError(undefined)))
      .catch((refused: unknown) => current && setError(refused));
    return () => {
      current = false;
    };
  }, [id, draft, step, skip, search]);
  if (!state.draft || !state.plan) {
    return state.error ? (
      <div className="pane">
        <Trouble error={state.error} />
      </div>
    ) : (
      <Waiting what="Counting…" />
    );
  }
  const title = heading(TITLES[step] ?? STEP_WORDS[step as Step] ?? step);
  const editable = state.answer?.state === 'draft' || state.answer?.state === 'set_aside';
  const withDependants = (page?.people ?? []).some((person) => person.dependants.length > 0);
  return (
    <>
      <div className="head">
        <h1>Reach</h1>
        <span className="soft">{state.name || 'New broadcast'}</span>
        <span className="end">
          {step === 'call_list' && <Button onClick={() => window.print()}>Print the call list</Button>}
          <Button component={Link} to={`/broadcasts/${id}`}>
            Back to the sheet
          </Button>
        </span>
      </div>
      <div className="reach">
        <aside className="pane no-print" aria-label="Steps">
          <Ledger plan={state.plan} on={step} stepped stepTo={(to) => `/broadcasts/${id}/reach?step=${to}`} />
          <p className="small stack" style={{ paddingTop: 12, gap: 6 }}>
            <Link to={`/broadcasts/${id}/reach?step=call_list`}>call list of those who cannot be texted</Link>
            {untickedCount(state.draft) > 0 && editable && (
              <button type="button" className="way" onClick={() => state.change({ unticked: [], unticked_numbers: [] })}>
                tick all {count(untickedCount(state.draft))} again
              </button>
            )}
          </p>
        </aside>
        <section className="pane" style={{ padding: 0, display: 'flex', flexDirection: 'column' }} aria-label={title}>
          <div className="row between" style={{ padding: '12px 18px 6px' }}>
            <h2>
              {title}
              {page ? `, ${peopleWords(page.total)}` : ''}
            </h2>
            <input
              className="field no-print"
              type="search"
              aria-label="Find by name or number"
              placeholder="Name or number"
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
            />
          </div>
          <Trouble error={error} />
          <div
            className="table-wrap grow"
            style={{ overflow: 'auto', padding: '0 18px' }}
            tabIndex={0}
            role="region"
            aria-label={`People: ${title}`}
          >
            <table>
              <thead>
                <tr>
                  <th scope="col">Name</th>
                  <th scope="col">{step === 'call_list' ? 'Number' : 'Text number'}</th>
                  {step === 'call_list' && <th scope="col">Other numbers</th>}
                  {withDependants && <th scope="col">About</th>}
                  <th scope="col">Why</th>
                  {step === 'will_get' && editable && (
                    <th scope="col" className="no-print">
                      <span className="visually-hidden">Untick</span>
                    </th>
                  )}
                </tr>
              </thead>
              <tbody>
                {(page?.people ?? []).map((person, i) => (
                  <tr key={`${person.id ?? 'n'}${i}`}>
                    <td>
                      {person.id === null ? (
                        person.name || <span className="soft">nobody in the address book</span>
                      ) : (
                        <Link to={`/people/${person.id}`}>{person.name || 'no name'}</Link>
                      )}
                    </td>
                    <td>{showPhone(person.number)}</td>
                    {step === 'call_list' && <td>{person.other_numbers}</td>}
                    {withDependants && <td>{person.dependants.join(', ')}</td>}
                    <td className="soft">{person.why}</td>
                    {step === 'will_get' && editable && (
                      <td className="num no-print">
                        <button
                          type="button"
                          className="way small"
                          onClick={() => state.draft && state.change(untick(state.draft, person))}
                        >
                          untick for this one
                        </button>
                      </td>
                    )}
                  </tr>
                ))}
              </tbody>
            </table>
            {page && page.total === 0 && (
              <p className="soft" style={{ padding: '16px 0' }}>
                {search ? `Nobody in this step matches “${search}”.` : 'Nobody.'}
              </p>
            )}
          </div>
          {page && page.total > 200 && (
            <div className="row line no-print" style={{ padding: '8px 18px' }}>
              <Button disabled={skip === 0} onClick={() => setSkip(Math.max(0, skip - 200))}>
                Before
              </Button>
              <span className="small soft">
                {count(skip + 1)} to {count(Math.min(page.total, skip + 200))} of {count(page.total)}
              </span>
              <Button disabled={page.total <= skip + 200} onClick={() => setSkip(skip + 200)}>
                Next
              </Button>
            </div>
          )}
        </section>
      </div>
    </>
  );
}
