import { Button } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { count, money, when } from '../pieces/format';
import { Trouble, useNow, useTitle, Waiting } from '../pieces/small';

interface Row {
  id: number;
  name: string;
  state: string;
  due_at: string;
  people: number;
  parts: number;
  cost_micro: number;
  tally: Record<string, number>;
  answers: number;
  opted_out: number;
  clicked: number;
}

/** One row a run: delivered as a bar, then the figures that matter, aligned. */
export default function Outcomes() {
  useTitle('Outcomes');
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const [skip, setSkip] = useState(0);
  const answer = useGet<{ runs: Row[] }>(`/api/outcomes?skip=${skip}`, { keep: true });
  const most = Math.max(1, ...(answer.data?.runs ?? []).map((run) => run.people));
  return (
    <>
      <div className="head">
        <h1>Outcomes</h1>
        <span className="soft">what became of each run, latest first; bars share one scale</span>
      </div>
      <div className="pane" style={{ flex: 1 }} tabIndex={0} role="region" aria-label="Runs and their outcomes">
        <Trouble error={answer.error} />
        {!answer.data ? (
          <Waiting what="Adding up…" />
        ) : answer.data.runs.length === 0 ? (
          <p className="soft">Nothing has been sent yet.</p>
        ) : (
          <table>
            <thead>
              <tr>
                <th scope="col">When</th>
                <th scope="col">Broadcast</th>
                <th scope="col" style={{ width: '28%' }}>
                  Delivered
                </th>
                <th scope="col" className="num">
                  <span className="visually-hidden">Delivered, count</span>
                </th>
                <th scope="col" className="num">
                  Not delivered
                </th>
                <th scope="col" className="num">
                  Uncertain
                </th>
                <th scope="col" className="num">
                  Answers
                </th>
                <th scope="col" className="num">
                  Opted out
                </th>
                <th scope="col" className="num">
                  Parts
                </th>
                <th scope="col" className="num">
                  Cost
                </th>
              </tr>
            </thead>
            <tbody>
              {answer.data.runs.map((run) => {
                const delivered = run.tally.delivered ?? 0;
                const bad = (run.tally.not_delivered ?? 0) + (run.tally.expired ?? 0);
                return (
                  <tr key={run.id}>
                    <td style={{ whiteSpace: 'nowrap' }}>{when(run.due_at, workspace.zone, now)}</td>
                    <td>
                      <Link to={`/runs/${run.id}`}>{run.name || 'no name'}</Link>
                      {run.state !== 'finished' && <span className="soft small"> {run.state}</span>}
                    </td>
                    <td style={{ verticalAlign: 'middle' }}>
                      <div
                        className="outcome"
                        style={{
                          height: 11,
                          width: `${Math.max(2, (100 * run.people) / most)}%`,
                          border: '1px solid var(--edge)',
                        }}
                      >
                        <span className="o-delivered" style={{ width: `${(100 * delivered) / Math.max(1, run.people)}%` }} />
                        {bad > 0 && (
                          <span className="o-not_delivered" style={{ width: `${(100 * bad) / Math.max(1, run.people)}%` }} />
                        )}
                      </div>
                    </td>
                    <td className="num" style={{ whiteSpace: 'nowrap' }}>
                      <b>{count(delivered)}</b> <span className="soft">of {count(run.people)}</span>
                    </td>
                    <td className={`num ${bad > 0 ? 'brick' : 'soft'}`}>{count(bad)}</td>
                    <td className={`num ${(run.tally.uncertain ?? 0) > 0 ? 'plum' : 'soft'}`}>
                      {count(run.tally.uncertain ?? 0)}
                    </td>
                    <td className="num">{count(run.answers)}</td>
                    <td className="num">{count(run.opted_out)}</td>
                    <td className="num">{count(run.parts)}</td>
                    <td className="num">{money(run.cost_micro, workspace.currency)}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        )}
        <div className="row" style={{ paddingTop: 10 }}>
          {skip > 0 && <Button onClick={() => setSkip(Math.max(0, skip - 50))}>Later runs</Button>}
          {answer.data?.runs.length === 50 && <Button onClick={() => setSkip(skip + 50)}>Earlier runs</Button>}
        </div>
      </div>
    </>
  );
}
