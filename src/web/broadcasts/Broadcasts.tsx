import { Button } from '@mui/material';
import { Link, useNavigate } from 'react-router';
import { send, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { count, when } from '../pieces/format';
import { Trouble, useNow, useTitle, Waiting } from '../pieces/small';

interface Row {
  id: number;
  name: string;
  state: string;
  updated_at: string;
  run_id: number | null;
  run_state: string | null;
  people: number | null;
  due_at: string | null;
  by: string | null;
}

/** Drafts and scheduled ones first, then what has ended. */
export default function Broadcasts() {
  useTitle('Broadcasts');
  const navigate = useNavigate();
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const answer = useGet<{ broadcasts: Row[] }>('/api/broadcasts');
  const start = () =>
    void send<{ id: number }>('POST', '/api/broadcasts', { name: '' }).then((made) => navigate(`/broadcasts/${made.id}`));
  const copy = (id: number) =>
    void send<{ id: number }>('POST', '/api/broadcasts', { name: '', copy: id }).then((made) =>
      navigate(`/broadcasts/${made.id}`),
    );
  return (
    <>
      <div className="head">
        <h1>Broadcasts</h1>
        <span className="end">
          <Button variant="contained" onClick={start}>
            New broadcast
          </Button>
        </span>
      </div>
      <div className="pane" style={{ flex: 1 }} tabIndex={0} role="region" aria-label="Broadcasts">
        <Trouble error={answer.error} />
        {!answer.data ? (
          <Waiting what="Loading…" />
        ) : answer.data.broadcasts.length === 0 ? (
          <p className="soft">None yet. The first one takes a list, a text and a time.</p>
        ) : (
          <table>
            <thead>
              <tr>
                <th scope="col">Name</th>
                <th scope="col">State</th>
                <th scope="col" className="num">
                  People
                </th>
                <th scope="col">When</th>
                <th scope="col">By</th>
                <th scope="col" className="hide-small">
                  <span className="visually-hidden">Acts</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {answer.data.broadcasts.map((row) => {
                const draft = row.state === 'draft' || row.state === 'set_aside';
                return (
                  <tr key={row.id}>
                    <td>
                      <Link
                        to={
                          draft || row.state === 'scheduled'
                            ? `/broadcasts/${row.id}`
                            : row.run_id
                              ? `/runs/${row.run_id}`
                              : `/broadcasts/${row.id}`
                        }
                      >
                        {row.name || 'no name'}
                      </Link>
                    </td>
                    <td>
                      {row.run_state && !draft
                        ? row.run_state === 'waiting'
                          ? 'scheduled'
                          : row.run_state
                        : row.state.replace('_', ' ')}
                    </td>
                    <td className="num">{row.people !== null && !draft ? count(row.people) : ''}</td>
                    <td>
                      {row.due_at && !draft ? (
                        when(row.due_at, workspace.zone, now)
                      ) : (
                        <span className="soft">saved {when(row.updated_at, workspace.zone, now)}</span>
                      )}
                    </td>
                    <td className="soft">{row.by}</td>
                    <td className="num hide-small">
                      <button type="button" className="way small" onClick={() => copy(row.id)}>
                        copy
                      </button>
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        )}
      </div>
    </>
  );
}
