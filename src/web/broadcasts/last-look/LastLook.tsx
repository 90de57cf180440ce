import { Box, Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useParams } from 'react-router';
import type { Draft } from '../../../core/plan/draft/draft';
import type { PlanSummary } from '../../../core/api/sending/plan';
import { iso } from '../../../core/clock';
import { localInstant } from '../../../core/zones';
import { useDesk } from '../../api/session';
import { when } from '../../pieces/format';
import { Column, Pane } from '../../pieces/layout';
import { Trouble, useNow, useTitle, Waiting } from '../../pieces/small';
import { ReadSheet } from '../sheet/ReadSheet';
import { LastFigures } from './LastFigures';
import { LastWords } from './LastWords';
import { PressPart } from './PressPart';
import { useLastLook } from './use-last-look';

const Slip = styled(Box)(({ theme }) => ({
  maxWidth: 1080,
  width: 'calc(100% - 40px)',
  margin: 'auto',
  background: theme.bell.card,
  border: `1px solid ${theme.bell.edge}`,
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) 316px',
  '& > div': { padding: '20px 26px' },
  '& > div + div': { borderLeft: `2px dashed ${theme.bell.edge}` },
  [theme.breakpoints.down('md')]: {
    display: 'block',
    width: '100%',
    borderLeft: 0,
    borderRight: 0,
    '& > div + div': { borderLeft: 0, borderTop: `2px dashed ${theme.bell.edge}` },
  },
}));
/** When the first goes: at an hour of each one's own, the hour that was said; else as the plan has it. */
function firstGoes(start: Draft['when'], plan: PlanSummary, zone: string, now: number): string {
  if (start.kind === 'at' && start.own === true) return when(iso(localInstant(start.date, start.time, zone).instant), zone, now);
  return plan.first ? when(plan.first, zone, now) : '';
}

/** The final summary before the irreversible act. What stands here is what then happens. */
export default function LastLook() {
  useTitle('Last look');
  const looked = useLastLook(Number(useParams().id));
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 10_000);
  if (!looked.shown)
    return (
      <Pane>
        <h1>Last look</h1>
        {looked.error ? (
          <Trouble error={looked.error}>
            <Button variant="quiet" onClick={() => void looked.look()}>
              Load it again
            </Button>
          </Trouble>
        ) : (
          <Waiting what="Counting once more…" />
        )}
      </Pane>
    );
  const { broadcast, plan } = looked.shown;
  // gone back to after the press, or opened by an old address: there is nothing to send any more
  if (broadcast.state !== 'draft' && broadcast.state !== 'set_aside') return <ReadSheet broadcast={broadcast} />;
  const goes = firstGoes(broadcast.draft.when, plan, workspace.zone, now);
  return (
    <Pane grow fill pad="16px 0">
      <Slip>
        <LastWords broadcast={broadcast} plan={plan} now={now} goes={goes} />
        <Column as="div" gap={0}>
          <LastFigures plan={plan} now={now} />
          <Column grow />
          <PressPart broadcast={broadcast} plan={plan} looked={looked} goes={goes} now={now} />
        </Column>
      </Slip>
    </Pane>
  );
}
