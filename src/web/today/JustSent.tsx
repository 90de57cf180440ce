import { sumsOf } from '../../core/outcome/sums-of';
import type { TodayAnswer } from '../../core/api/desk/today';
import { useDesk } from '../api/session';
import { count, when } from '../pieces/format';
import { Bit, Pane, Row, Words } from '../pieces/layout';
import { OutcomeBar } from '../pieces/chart/OutcomeBar';
import { Nothing, useNow } from '../pieces/small';
import { Way } from '../pieces/ways';

/** What went last, and what became of it. */
export function JustSent({ sent }: { sent: TodayAnswer['sent'] }) {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  return (
    <Pane as="section" pad="14px 20px" aria-label="Just sent">
      <Words as="h2" figure="line" below={12}>
        Just sent
      </Words>
      {sent.length === 0 && (
        <Nothing title="Nothing has gone yet">
          Within a minute of a broadcast’s start you see here how much of it was delivered, who answered, and who said stop.
        </Nothing>
      )}
      {sent.map((run) => {
        const { delivered, notDelivered, notSent, uncertain, open } = sumsOf(run.tally);
        return (
          <Words line pad="10px 0" key={run.id}>
            <Row between base nowrap>
              <Way strong cut to={`/runs/${run.id}`}>
                {run.name || 'no name'}
              </Way>
              <Bit soft small nobreak>
                {when(run.due_at, workspace.zone, now)}
              </Bit>
            </Row>
            <OutcomeBar
              thin
              people={run.people}
              label={`${count(delivered)} of ${count(run.people)} delivered`}
              parts={[
                ['delivered', delivered],
                ['with_carrier', open],
                ['not_sent', notSent],
                ['uncertain', uncertain],
                ['not_delivered', notDelivered],
              ]}
            />
            <Row nowrap gap={10}>
              <Bit fig figure="mid">
                {run.people > 99 ? `${((100 * delivered) / run.people).toFixed(1)}%` : `${delivered} of ${run.people}`}
              </Bit>
              <Bit soft small>
                {run.people > 99 ? `${count(delivered)} of ${count(run.people)} delivered` : 'delivered'}
                <br />
                {[
                  run.answers > 0 && `${count(run.answers)} answered`,
                  run.clicked > 0 && `${count(run.clicked)} clicked`,
                  run.opted_out > 0 && `${count(run.opted_out)} opted out`,
                  notDelivered > 0 && `${count(notDelivered)} not delivered`,
                  notSent > 0 && `${count(notSent)} not sent`,
                  uncertain > 0 && `${count(uncertain)} uncertain`,
                ]
                  .filter(Boolean)
                  .join(' · ') || 'no answers'}
              </Bit>
            </Row>
          </Words>
        );
      })}
    </Pane>
  );
}
