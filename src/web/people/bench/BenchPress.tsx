import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useRef } from 'react';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import { imports, type ImportCounts } from '../../../core/api/people/imports';
import { useAct } from '../../api/client';
import { people } from '../../pieces/format';
import { useKeptPress, type KeptPress } from '../../pieces/kept-press';
import { Column, Row, Words } from '../../pieces/layout';
import { Trouble } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import type { BroadcastGoal } from './for-broadcast';
import type { Change, Staged } from './staged';

/** The decision stands at the foot, wherever the pane is scrolled to. */
const Foot = styled(Column)(({ theme }) => ({
  padding: '10px 16px 12px',
  borderTop: `1px solid ${theme.bell.hairline}`,
  background: theme.bell.card,
  gap: 5,
  [theme.breakpoints.down('md')]: { position: 'sticky', bottom: 0 },
}));

/** Bringing them in, once it is counted what that is; a list that was typed or chosen and not yet counted for is counted for first. */
export function useDecision({
  staged: { id, version, settings },
  busy,
  checking,
  going,
  list,
  change,
  work,
}: {
  staged: Staged;
  busy: boolean;
  checking: boolean;
  going: number;
  list: string;
  change: Change;
  work: (task: () => Promise<Staged | undefined>) => Promise<void>;
}): KeptPress {
  const decideOn = useAct(imports.decide);
  const listed = list === settings.list;
  const decided = useRef<number>(undefined);
  const decide = useKeptPress({
    counted: !busy && !checking && listed,
    stands: people(going),
    act: () => {
      // one decision of one version, however often it is pressed
      if (decided.current === version) return undefined;
      decided.current = version;
      return work(async () => {
        try {
          await decideOn({ params: { id }, body: { version } });
        } catch (refused) {
          decided.current = undefined;
          throw refused;
        }
        return undefined;
      });
    },
  });
  return {
    ...decide,
    press() {
      if (!listed) void change({ list });
      decide.press();
    },
  };
}

/** The one act, and what stands in its way. */
export function Press({
  error,
  settings,
  going,
  busy,
  checking,
  counts,
  decide,
  once,
  goal,
  giveUp,
}: {
  error: unknown;
  settings: ImportSettings;
  going: number;
  busy: boolean;
  checking: boolean;
  counts: ImportCounts;
  decide: KeptPress;
  once: () => Promise<void>;
  goal: BroadcastGoal;
  giveUp: () => Promise<void>;
}) {
  const nobody = going + (counts.unchanged ?? 0) === 0;
  return (
    <Foot>
      <Trouble error={error} />
      {!settings.match.includes('number') && going > 0 && (
        <Words as="p" small brick role="status">
          No column is the text number, so nobody new can be texted. Choose it above its column.
        </Words>
      )}
      {goal.id !== undefined && (
        <>
          <Button variant="contained" size="medium" disabled={busy || checking || nobody} onClick={() => void once()}>
            Use it for this broadcast only
          </Button>
          <Words as="p" soft small centered>
            nobody enters the address book
          </Words>
        </>
      )}
      <Button
        variant={goal.id === undefined ? 'contained' : 'outlined'}
        size="medium"
        disabled={!busy && !checking && nobody}
        onClick={decide.press}
      >
        {decide.kept ? 'When the rows are checked…' : `Bring in ${people(going)}`}
      </Button>
      {decide.moved && (
        <Words as="p" small brick role="alert">
          Now it is {people(going)}. Nobody was brought in yet: look, and press once more.
        </Words>
      )}
      <Words as="p" soft small centered>
        all or nothing; undo within 30 days
      </Words>
      <Row as="p" small between>
        {goal.id === undefined && <Way onClick={() => void once()}>use it once only</Way>}
        <Way onClick={() => void giveUp()}>give it up</Way>
      </Row>
    </Foot>
  );
}
