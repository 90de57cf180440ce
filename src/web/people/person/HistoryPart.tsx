import { outcomes } from '../../../core/api/sending/outcomes';
import { useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { percent, ShareFigure } from '../../outcomes/for-others';
import { ago, count, dayOf } from '../../pieces/format';
import { Bit, Row, Words } from '../../pieces/layout';

/** What became of the broadcasts to somebody: how much of it they answer and click, beside what is usual, and how soon. */
export function HistoryPart({ id }: { id: number }) {
  const { workspace } = useDesk();
  const history = useGet(outcomes.person, { params: { id } }, { keep: true }).data;
  if (!history || history.since === null) return null;
  const { delivered, not_delivered, answered, linked, clicked, answers_after, since, usual } = history;
  const share = (says: string, k: number, n: number, usually: number | null) => (
    <Row small gap={10} nowrap base>
      <Bit width={62} fixed>
        {says}
      </Bit>
      <ShareFigure k={k} n={n} usual={usually} most={Math.max(k / Math.max(n, 1), (usually ?? 0) * 2)} />
      <Bit soft>
        {count(k)} of {count(n)}
        {usually !== null ? `, usual ${percent(usually)}` : ''}
      </Bit>
    </Row>
  );
  return (
    <section aria-label="What became of broadcasts">
      <Words as="h2" line above={9}>
        Broadcasts since {dayOf(since, workspace.zone)}
      </Words>
      <Words small below={2}>
        <b>{count(delivered)}</b> delivered{not_delivered > 0 ? `, ${count(not_delivered)} not` : ''}
      </Words>
      {delivered > 0 && share('answered', answered, delivered, usual.answers)}
      {linked > 0 && share('clicked', clicked, linked, usual.clicked)}
      {answers_after !== null && (
        <Words soft small>
          {answered === 1 ? 'The answer came' : 'Half of the answers came'} within {ago(answers_after * 1000)}
        </Words>
      )}
    </section>
  );
}
