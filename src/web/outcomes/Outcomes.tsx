import { Button } from '@mui/material';
import { useNavigate } from 'react-router';
import { outcomes } from '../../core/api/sending/outcomes';
import { fileAt } from '../api/client';
import { ColumnsMenu } from '../pieces/table/ColumnsMenu';
import { DataTable } from '../pieces/table/DataTable';
import { ExportMenu } from '../pieces/table/ExportMenu';
import { count } from '../pieces/format';
import { Bit, End, Head, Pane, Row, Words } from '../pieces/layout';
import { Pager } from '../pieces/table/Pager';
import { Nothing, useTitle } from '../pieces/small';
import { useTableLayout } from '../pieces/table/table-layout';
import { Way } from '../pieces/ways';
import { useOutcomes } from './use-outcomes';
import { Which } from './Which';

const PAGE = 50;
const HIDDEN = ['sender', 'by', 'parts', 'uncertain'];
/** Every run on one scale, latest first: what became of it, beside what is usual; two to four of them compared. */
export default function Outcomes() {
  useTitle('Outcomes');
  const navigate = useNavigate();
  const layout = useTableLayout('outcomes', { hidden: HIDDEN });
  const { narrowed, narrow, address, which, answer, total, rows, usual, said, columns, picked, skip, setSkip } = useOutcomes();
  return (
    <>
      <Head>
        <h1>Outcomes</h1>
        <Bit soft small role="status">
          {total === undefined ? 'counting…' : `${count(total)} ${total === 1 ? 'run' : 'runs'}`}
        </Bit>
        <End>
          <Button
            variant="contained"
            disabled={picked.length < 2}
            onClick={() => void navigate(`/outcomes/compare?ids=${picked.join(',')}`)}
          >
            {picked.length < 2 ? 'Compare two to four' : `Compare ${picked.length}`}
          </Button>
          <Way to={`/outcomes/over-time?${address}`}>Over time</Way>
          <ColumnsMenu columns={columns} layout={layout} />
          <ExportMenu
            files={[
              { words: 'CSV', href: fileAt(outcomes.csv, { query: which }) },
              { words: 'workbook (XLSX)', href: fileAt(outcomes.xlsx, { query: which }) },
            ]}
          />
        </End>
      </Head>
      <Pane fill grow pad="10px 20px">
        <Which narrowed={narrowed} change={narrow} />
        {said.length > 0 && (
          <Words soft small above={6}>
            usual of {usual?.runs === 1 ? 'one run' : `${count(usual?.runs ?? 0)} runs`} (the tick): {said.join(', ')} of those
            who got it
          </Words>
        )}
        <DataTable
          label="Runs and their outcomes"
          columns={columns}
          rows={rows}
          idOf={(run) => run.id}
          layout={layout}
          loading={answer.isPending}
          error={answer.error}
          empty={
            address !== '' ? (
              <Nothing title="No such run">Nothing that was sent is all of that. Take one of them away.</Nothing>
            ) : (
              <Nothing title="Nothing has been sent yet">
                After a broadcast each run stands here: delivered and not, answers, clicks, who said stop, and what it cost.
              </Nothing>
            )
          }
        />
        <Row>
          <Pager skip={skip} page={PAGE} total={answer.data?.total} go={setSkip} />
        </Row>
      </Pane>
    </>
  );
}
