import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useNavigate } from 'react-router';
import { broadcasts } from '../../core/api/sending/broadcasts';
import type { TodayAnswer } from '../../core/api/desk/today';
import { mayDo } from '../../core/api/roles';
import { useAct } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { ago, clockTime, count, dayOf, money, parts, people, when } from '../pieces/format';
import { Bit, Pane, Row, Words } from '../pieces/layout';
import { Nothing, Trouble, useNow } from '../pieces/small';
import { Way } from '../pieces/ways';

const DayPart = styled(Words)(({ theme }) => ({ borderTop: `2px solid ${theme.bell.ink}`, marginTop: 6, padding: '8px 0' }));

/** What goes out next: today's one by one, later days line by line. */
export function GoingOut({
  going,
  coming,
  ready,
}: {
  going: TodayAnswer['going'];
  coming: TodayAnswer['coming'];
  ready: boolean;
}) {
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 1000);
  const navigate = useNavigate();
  const make = useAct(broadcasts.make);
  const { work, error } = useWork();
  const zone = workspace.zone;
  const today = dayOf(now, zone);
  const todays = going.filter((run) => dayOf(run.due_at, zone) === today);
  const later = going.filter((run) => dayOf(run.due_at, zone) !== today);
  const mayWrite = mayDo(account.role, 'write');
  const start = () =>
    void work(async () => {
      const { id } = await make({ body: { name: '' } });
      await navigate(`/broadcasts/${id}`);
    });
  return (
    <Pane as="section" pad="14px 20px" aria-label="Going out">
      <Row between below={8}>
        <Words as="h2" figure="line">
          Going out
        </Words>
        {mayWrite && (
          <Button onClick={start} size="medium">
            New broadcast
          </Button>
        )}
      </Row>
      <Trouble error={error} />
      {going.length + coming.length === 0 && (
        <Nothing title="Nothing is scheduled">
          A broadcast is one text to many: say who, write, look once more, and it goes at its time.{' '}
          {!ready && 'What a first one needs stands on the left.'}
        </Nothing>
      )}
      {todays.map((run) => (
        <Words line pad="9px 0" key={run.id}>
          <Row between base>
            <Bit fig figure="mid">
              {run.state === 'waiting' ? clockTime(run.due_at, zone) : run.state}
            </Bit>
            <Bit soft>{run.state === 'waiting' ? `in ${ago(Date.parse(run.due_at) - now)}` : clockTime(run.due_at, zone)}</Bit>
          </Row>
          <Words strong>{run.name || 'no name'}</Words>
          <Words soft>
            <Way to={`/runs/${run.id}`}>{people(run.people)}</Way> · {parts(run.parts)} ·{' '}
            {money(run.cost_micro, workspace.currency)} · until {clockTime(run.last_due_at, zone)}
          </Words>
        </Words>
      ))}
      {todays.length === 0 && later.length > 0 && (
        <Words line soft pad="9px 0">
          Nothing more today.
        </Words>
      )}
      {[...new Set(later.map((run) => dayOf(run.due_at, zone)))].map((day) => (
        <DayPart key={day}>
          <Words soft small>
            {day}
          </Words>
          {later
            .filter((run) => dayOf(run.due_at, zone) === day)
            .map((run) => (
              <Row nowrap base pad="5px 0" gap={14} key={run.id}>
                <Bit width={74} fixed>
                  {clockTime(run.due_at, zone)}
                </Bit>
                <Words grow>
                  {run.name || 'no name'}{' '}
                  <Bit soft small>
                    {money(run.cost_micro, workspace.currency)}
                  </Bit>
                </Words>
                <Way aria-label={`${people(run.people)}, ${run.name || 'no name'}`} to={`/runs/${run.id}`}>
                  {count(run.people)}
                </Way>
              </Row>
            ))}
        </DayPart>
      ))}
      {coming.length > 0 && (
        <DayPart>
          <Words soft small>
            Again, counted anew shortly before
          </Words>
          {coming.map((each) => (
            <Row nowrap base pad="5px 0" gap={14} key={each.broadcast_id}>
              <Bit width={150} fixed>
                {when(each.at, zone, now)}
              </Bit>
              <Words grow>
                <Way to={`/broadcasts/${each.broadcast_id}`}>{each.name || 'no name'}</Way>
              </Words>
              <Bit soft>{count(each.people)}</Bit>
            </Row>
          ))}
        </DayPart>
      )}
    </Pane>
  );
}
