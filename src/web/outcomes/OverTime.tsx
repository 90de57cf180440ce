import { styled } from '@mui/material/styles';
import { useState, type ReactNode } from 'react';
import { Bar } from 'react-chartjs-2';
import { outcomes, type OverTimeAnswer } from '../../core/api/sending/outcomes';
import { wallClock } from '../../core/zones';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useInAddress } from '../pieces/address';
import { Figure, useChartLook } from '../pieces/chart/chart';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { clockTime, count, money } from '../pieces/format';
import { Bit, End, Head, Pane, Row, Words } from '../pieces/layout';
import { Nothing, Trouble, useNow, useSettled, useTitle, Waiting } from '../pieces/small';
import { Way } from '../pieces/ways';
import { percent } from './ShareFigure';
import { NARROWED_BY, queryOf, Which } from './Which';

const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const Four = styled('div')(({ theme }) => ({
  display: 'grid',
  gridTemplateColumns: 'repeat(2, minmax(0, 1fr))',
  gap: '22px 36px',
  alignItems: 'start',
  [theme.breakpoints.down('md')]: { gridTemplateColumns: 'minmax(0, 1fr)' },
}));

const MONTH = new Intl.DateTimeFormat('en-US', { month: 'short', year: 'numeric', timeZone: 'UTC' });
const monthName = (month: string) => MONTH.format(new Date(`${month}-15T00:00:00Z`));

type Together = OverTimeAnswer['hours'][number];
interface Group extends Together {
  name: string;
}

/** Runs taken together: when people answer, what opting out does over the months, and what it costs; a table behind each picture. */
export default function OverTime() {
  useTitle('Outcomes over time');
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const [narrowed, narrow, address] = useInAddress(NARROWED_BY);
  const settled = useSettled(JSON.stringify(queryOf(narrowed, wallClock(now, workspace.zone).date)), 250);
  const answer = useGet(outcomes.overTime, { query: JSON.parse(settled) as ReturnType<typeof queryOf> }, { keep: true });
  const data = answer.data;
  // an hour of the day as the workspace writes it, whatever the day
  const hour = (at: number) => clockTime(Date.UTC(2026, 0, 15, at), 'UTC').replace(':00', '');
  const months = (data?.months ?? []).map((each) => ({ ...each, name: monthName(each.month) }));
  const share = (n: number, of: number) => (of > 0 ? n / of : 0);
  const cost = (micro: number) => money(micro, workspace.currency);
  return (
    <>
      <Head>
        <h1>Outcomes over time</h1>
        <End>
          <Way to={`/outcomes?${address}`}>Run by run</Way>
        </End>
      </Head>
      <Pane grow tabIndex={0} role="region" aria-label="Outcomes over time" pad="14px 20px">
        <Which narrowed={narrowed} change={narrow} />
        <Words below={16} />
        <Trouble error={answer.error} />
        {!data && !answer.error && <Waiting what="Counting…" />}
        {data &&
          data.months.length === 0 &&
          (address !== '' ? (
            <Nothing title="No such run">Nothing that was sent is all of that. Take one of them away.</Nothing>
          ) : (
            <Nothing title="Nothing has been sent yet">
              After a few broadcasts it stands here which hours and days are answered, who said stop, and what a month costs.
            </Nothing>
          ))}
        {data && data.months.length > 0 && (
          <Four>
            <Picture
              title="Answers of 100 delivered, by the hour it went"
              groups={data.hours.map((each, at) => ({ ...each, name: hour(at) })).filter((each) => each.runs > 0)}
              value={(each) => 100 * share(each.answers, each.delivered)}
              columns={[
                ['Delivered', (each) => count(each.delivered)],
                ['Answered', (each) => `${count(each.answers)}, ${percent(share(each.answers, each.delivered))}`],
                ['Clicked', (each) => (each.linked > 0 ? count(each.clicked) : '')],
              ]}
            />
            <Picture
              title="Answers of 100 delivered, by the day it went"
              groups={data.weekdays.map((each, at) => ({ ...each, name: WEEKDAYS[at] }))}
              value={(each) => 100 * share(each.answers, each.delivered)}
              columns={[
                ['Delivered', (each) => count(each.delivered)],
                ['Answered', (each) => `${count(each.answers)}, ${percent(share(each.answers, each.delivered))}`],
                ['Clicked', (each) => (each.linked > 0 ? count(each.clicked) : '')],
              ]}
            />
            <Picture
              title="Opted out of 1,000 delivered, by month"
              groups={months}
              value={(each) => 1000 * share(each.opted_out, each.delivered)}
              columns={[
                ['Delivered', (each) => count(each.delivered)],
                ['Opted out', (each) => count(each.opted_out)],
              ]}
            />
            <Picture
              title={`Cost by month, ${workspace.currency}`}
              groups={months}
              value={(each) => each.spent_micro / 1e6}
              columns={[
                ['Delivered', (each) => count(each.delivered)],
                ['Cost', (each) => cost(each.spent_micro)],
              ]}
            />
            <Cost title="Cost by label" groups={data.labels} cost={cost} none="without a label" />
            <Cost title="Cost by sender" groups={data.senders} cost={cost} none="" />
          </Four>
        )}
      </Pane>
    </>
  );
}

type Shown = readonly [heading: string, cell: (each: Group) => ReactNode];

function tableOf(columns: readonly Shown[], first: string): Column<Group>[] {
  return [
    { key: 'name', heading: first, cell: (each) => each.name },
    { key: 'runs', heading: 'Runs', num: true, cell: (each) => count(each.runs) },
    ...columns.map(([heading, cell]): Column<Group> => ({ key: heading, heading, num: true, cell })),
  ];
}

/** A picture with its table behind it. */
function Picture({
  title,
  groups,
  value,
  columns,
}: {
  title: string;
  groups: readonly Group[];
  value: (each: Group) => number;
  columns: readonly Shown[];
}) {
  const { palette, plain, along, counted } = useChartLook();
  const [table, setTable] = useState(false);
  const values = groups.map(value);
  const most = values.indexOf(Math.max(...values));
  return (
    <section>
      <Row between base under below={6}>
        <h2>{title}</h2>
        <Way small onClick={() => setTable(!table)} aria-pressed={table}>
          {table ? 'as a picture' : 'as a table'}
        </Way>
      </Row>
      {table ? (
        <DataTable label={title} columns={tableOf(columns, 'When')} rows={[...groups]} idOf={(each) => each.name} />
      ) : (
        <Figure height={150} caption={<Bit soft>most: {groups[most]?.name}</Bit>}>
          <Bar
            aria-label={`${title}: most ${groups[most]?.name ?? ''}`}
            data={{
              labels: groups.map((each) => each.name),
              datasets: [{ data: values, backgroundColor: palette.primary.main, maxBarThickness: 26 }],
            }}
            options={{
              ...plain,
              scales: { x: along(12), y: { ...counted(4), ticks: { ...counted(4).ticks, precision: undefined } } },
            }}
          />
        </Figure>
      )}
    </section>
  );
}

function Cost({
  title,
  groups,
  cost,
  none,
}: {
  title: string;
  groups: readonly Group[];
  cost: (micro: number) => string;
  none: string;
}) {
  return (
    <section>
      <Words as="h2" below={6}>
        {title}
      </Words>
      <DataTable
        label={title}
        columns={tableOf([['Cost', (each) => cost(each.spent_micro)]], title.replace('Cost by ', ''))}
        rows={groups.map((each) => ({ ...each, name: each.name || none }))}
        idOf={(each) => each.name}
      />
    </section>
  );
}
