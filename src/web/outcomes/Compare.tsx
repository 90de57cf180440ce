import { sumsOf } from '../../core/outcome/sums-of';
import { Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material';
import { useSearchParams } from 'react-router';
import { outcomes, type OutcomeRow } from '../../core/api/sending/outcomes';
import { differenceWords, MEASURES, otherwise, shareOf, type Compared, type Measure } from '../../core/outcome/compare';
import { shareInterval } from '../../core/outcome/proportions';
import { wallClock } from '../../core/zones';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { InWords } from '../pieces/words/InWords';
import { count, money, parts, when } from '../pieces/format';
import { Bit, Head, Pane, TextBox, Words } from '../pieces/layout';
import { useNow, useTitle, Waiting } from '../pieces/small';
import { Way } from '../pieces/ways';
import { percent } from './ShareFigure';
import { Unopened } from '../pieces/Unopened';

const NAMES: Readonly<Record<Measure, string>> = {
  delivered: 'delivered',
  answered: 'answered',
  clicked: 'clicked',
  opted_out: 'opted out',
};

const comparedOf = (run: OutcomeRow): Compared => ({
  people: run.people,
  delivered: sumsOf(run.tally).delivered,
  answered: run.answers,
  clicked: run.clicked,
  linked: run.linked,
  opted_out: run.opted_out,
  parts: run.parts,
  due_at: run.due_at,
  sender: run.sender,
  words: run.words,
  purpose: run.purpose,
});

/** Two to four runs as columns: the same denominators, and in words how each differs from the first, with honest doubt. */
export default function Compare() {
  useTitle('Comparing runs');
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const [params] = useSearchParams();
  const answer = useGet(outcomes.compare, { query: { ids: params.get('ids') ?? '' } }, { keep: true });
  const { zone } = workspace;
  const wall = (at: string) => ({
    ...wallClock(Date.parse(at), zone),
    weekday: new Intl.DateTimeFormat('en-US', { timeZone: zone, weekday: 'long' }).format(Date.parse(at)),
  });
  if (answer.error)
    return (
      <Unopened what="Runs compared" error={answer.error}>
        <Way to="/outcomes">all runs</Way>
      </Unopened>
    );
  if (!answer.data) return <Waiting what="Putting them beside one another…" />;
  const { runs } = answer.data;
  const all = runs.map(comparedOf);
  const [base] = all;
  return (
    <>
      <Head>
        <h1>Comparing {runs.length} runs</h1>
        <Bit soft small>
          the others against the first; delivered of all, the rest of those who got it
        </Bit>
        <Way to="/outcomes">all runs</Way>
      </Head>
      <Pane grow pad="8px 20px" tabIndex={0} role="region" aria-label="Runs beside one another">
        <Words scrolls>
          <Beside runs={runs} zone={zone} now={now} all={all} base={base} wall={wall} />
        </Words>
        <Words soft small above={10}>
          From few people little can be told: what everybody would do lies, nineteen times of twenty, in the range that is given.
          Where chance alone may explain a difference, two are said to be alike.
        </Words>
      </Pane>
    </>
  );
}

/** The runs as columns, each figure beside the first one’s. */
function Beside({
  runs,
  zone,
  now,
  all,
  base,
  wall,
}: {
  runs: readonly OutcomeRow[];
  zone: string;
  now: number;
  all: readonly Compared[];
  base: Compared;
  wall: (at: string) => { weekday: string; date: string; time: string; minutes: number };
}) {
  const { workspace } = useDesk();
  return (
    <Table size="small">
      <TableHead>
        <TableRow>
          <TableCell>
            <Bit soft>run</Bit>
          </TableCell>
          {runs.map((run) => (
            <TableCell key={run.id} scope="col">
              <Way to={`/runs/${run.id}`} strong>
                {run.name || 'no name'}
              </Way>
              <Words soft small>
                {when(run.due_at, zone, now)}, {count(run.people)} {run.people === 1 ? 'person' : 'people'}
              </Words>
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {MEASURES.map((measure) => (
          <TableRow key={measure}>
            <TableCell component="th" scope="row">
              <Bit soft>{NAMES[measure]}</Bit>
            </TableCell>
            {all.map((run, i) => {
              const share = shareOf(run, measure);
              const range = share && shareInterval(share.k, share.n);
              const differs = i > 0 && share?.n !== 1 ? differenceWords(measure, run, base) : undefined;
              return (
                <TableCell key={runs[i].id}>
                  {share && range ? (
                    <>
                      <Bit fig figure="mid">
                        {share.n === 1 ? `${share.k} of 1` : percent(share.k / share.n)}
                      </Bit>{' '}
                      <Bit soft small>
                        {share.n === 1
                          ? 'of one it is said, not measured'
                          : `${count(share.k)} of ${count(share.n)}; likely ${percent(range.from)} to ${percent(range.to)}`}
                      </Bit>
                      {differs && <Words small>{differs}</Words>}
                    </>
                  ) : (
                    <Bit soft>{measure === 'clicked' ? 'no link' : 'nothing to count'}</Bit>
                  )}
                </TableCell>
              );
            })}
          </TableRow>
        ))}
        <TableRow>
          <TableCell component="th" scope="row">
            <Bit soft>cost</Bit>
          </TableCell>
          {runs.map((run) => (
            <TableCell key={run.id}>
              <Bit fig>{money(run.spent_micro, workspace.currency)}</Bit>{' '}
              <Bit soft small>
                {parts(run.spent_parts)}
                {run.people > 0 && `, ${money(Math.round(run.spent_micro / run.people), workspace.currency)} a person`}
              </Bit>
            </TableCell>
          ))}
        </TableRow>
        <TableRow>
          <TableCell component="th" scope="row">
            <Bit soft>otherwise</Bit>
          </TableCell>
          {all.map((run, i) => (
            <TableCell key={runs[i].id}>
              {i === 0 ? (
                <Bit soft>the one the others are held against</Bit>
              ) : (
                otherwise(run, base, wall).join('; ') || 'nothing else that is known'
              )}
            </TableCell>
          ))}
        </TableRow>
        <TableRow>
          <TableCell component="th" scope="row">
            <Bit soft>words</Bit>
          </TableCell>
          {runs.map((run) => (
            <TableCell key={run.id}>
              <TextBox small>{run.words ? <InWords words={run.words} /> : 'not kept'}</TextBox>
            </TableCell>
          ))}
        </TableRow>
      </TableBody>
    </Table>
  );
}
