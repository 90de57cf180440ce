import { sumsOf } from '../../../core/outcome/sums-of';
import { Button, Menu, MenuItem } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { runs, type RunAnswer } from '../../../core/api/sending/runs';
import type { RunOutcome } from '../../../core/outcome/outcomes';
import { useAct } from '../../api/client';
import { useWork } from '../../api/work';
import { count } from '../../pieces/format';
import { Bit, Row } from '../../pieces/layout';
import { Sure } from '../../pieces/Sure';
import { Trouble } from '../../pieces/small';

/** A new broadcast to those of a run by what became of their text, or one that puts right what it said. */
export function FollowUp({ answer, maySend }: { answer: RunAnswer; maySend: boolean }): ReactNode {
  const { run, tally, clicks, answers } = answer;
  const navigate = useNavigate();
  const make = useAct(broadcasts.make);
  const cancelRest = useAct(runs.cancelRest);
  const { work, busy, error } = useWork();
  const [anchor, setAnchor] = useState<HTMLElement>();
  const [correcting, setCorrecting] = useState(false);
  const { delivered, notDelivered: failed, notSent } = sumsOf(tally);
  const left = delivered + (tally.with_carrier ?? 0) + (tally.uncertain ?? 0) + (tally.handing_over ?? 0);
  const open = run.state === 'sending' || run.state === 'paused' ? (tally.planned ?? 0) : 0;
  const offers: [RunOutcome, string, number | undefined][] = [
    ['not_delivered', 'Those it was not delivered to', failed],
    ['not_answered', 'Those who got it and did not answer', delivered],
    ['answered', 'Those who answered', answers.people],
    ...(clicks.links > 0
      ? ([
          ['clicked', 'Those who clicked', clicks.clicked],
          ['not_clicked', 'Those who got it and did not click', delivered],
        ] as [RunOutcome, string, number][])
      : []),
    ['not_sent', 'Those it was not sent to', notSent],
    ['delivered', 'Everyone who got it', delivered],
  ];
  const follow = (outcome: RunOutcome, as: { corrects?: true; thanks?: true } = {}) =>
    void work(async () => {
      if (as.corrects && open > 0) await cancelRest({ params: { id: run.id }, body: {} });
      const { id } = await make({ body: { name: '', follow: { run_id: run.id, outcome, ...as } } });
      await navigate(`/broadcasts/${id}`);
    });
  return (
    <>
      <Button disabled={busy} aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        Follow up
      </Button>
      {/* there from the start, so that nothing beside it moves when the first text has left */}
      {left + open > 0 && (open === 0 || maySend) && (
        <Button
          disabled={busy || left === 0}
          onClick={() => (open > 0 ? setCorrecting(true) : follow('left', { corrects: true }))}
        >
          Correct it
        </Button>
      )}
      <Menu open={anchor !== undefined} anchorEl={anchor} onClose={() => setAnchor(undefined)}>
        {offers
          .filter(([, , n]) => n !== 0)
          .map(([outcome, words, n]) => (
            <MenuItem
              key={outcome}
              onClick={() => {
                setAnchor(undefined);
                follow(outcome);
              }}
            >
              <Row between nowrap gap={20} grow>
                {words}
                {outcome !== 'not_answered' && outcome !== 'not_clicked' && n !== undefined && <Bit soft>{count(n)}</Bit>}
              </Row>
            </MenuItem>
          ))}
        {answers.people > 0 && (
          <MenuItem
            onClick={() => {
              setAnchor(undefined);
              follow('answered', { thanks: true });
            }}
          >
            <Row between nowrap gap={20} grow>
              Thank those who answered
              <Bit soft>{count(answers.people)}</Bit>
            </Row>
          </MenuItem>
        )}
      </Menu>
      {correcting && (
        <Sure
          title="Correct what has gone?"
          act={`Cancel the other ${count(open)}, correct it for ${count(left)}`}
          leave={() => setCorrecting(false)}
          confirm={() => follow('left', { corrects: true })}
        >
          What has not gone is canceled, and you write a correction to those whom it has reached or may still reach.
        </Sure>
      )}
      <Trouble error={error} />
    </>
  );
}
