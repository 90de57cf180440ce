import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useNavigate } from 'react-router';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { mayDo } from '../../../core/api/roles';
import { runs } from '../../../core/api/sending/runs';
import { useAct, useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { count } from '../../pieces/format';
import { Beginning, Bit, Column, Row, Words } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { Trouble } from '../../pieces/small';
import { Way } from '../../pieces/ways';

const Track = styled('div')({ flex: 1, minWidth: 0 });
const Bar = styled('div', { shouldForwardProp: (name) => name !== 'doubt' })<{ doubt?: boolean }>(({ theme, doubt }) => ({
  height: 13,
  minWidth: 2,
  background: doubt ? theme.bell.plum : theme.bell.lake,
}));

/** What was answered to the question that a run asks, as bars; what is doubtful is said by a person, answer by answer. */
export function RunTally({ run }: { run: number }) {
  const { account } = useDesk();
  const answer = useGet(runs.tally, { params: { id: run } }, { keep: true }).data;
  const choose = useAct(runs.choose);
  const make = useAct(broadcasts.make);
  const navigate = useNavigate();
  const { work, busy, error } = useWork();
  if (!answer || answer.choices.length === 0) return null;
  const { choices, people, doubtful, doubts, others, silent } = answer;
  const most = Math.max(1, doubts, ...people);
  const write = (choice: number) =>
    void work(async () => {
      const follow = { run_id: run, outcome: 'answered' as const, choice: { n: choice, label: choices[choice].slice(0, 60) } };
      const { id } = await make({ body: { name: '', follow } });
      await navigate(`/broadcasts/${id}`);
    });
  const row = (label: string, n: number, choice?: number) => (
    <Row nowrap gap={10} key={label} small>
      <Bit width={76} fixed cut title={label}>
        {label}
      </Bit>
      <Track aria-hidden>{n > 0 && <Bar doubt={choice === undefined} style={{ width: `${(100 * n) / most}%` }} />}</Track>
      <Bit num width={44} fixed>
        {count(n)}
      </Bit>
      {mayDo(account.role, 'write') && (
        <Bit width={62} fixed>
          {choice !== undefined && n > 0 && (
            <Way small disabled={busy} aria-label={`Write to the ${count(n)} who say ${label}`} onClick={() => write(choice)}>
              write
            </Way>
          )}
        </Bit>
      )}
    </Row>
  );
  return (
    <section aria-label="Answers to the question">
      <Words as="h2" under below={6}>
        Asked: {choices.map((label, i) => `${i + 1} ${label}`).join(', ')}
      </Words>
      <Column gap={8}>
        {choices.map((label, i) => row(label, people[i], i))}
        {doubts > 0 && row('doubtful', doubts)}
      </Column>
      <Words soft small above={6}>
        {count(silent)} got it and have not answered
        {others > 0 ? `, ${count(others)} wrote something else` : ''}
      </Words>
      {doubtful.map((each) => (
        <Column line pad="6px 0" gap={4} key={each.id}>
          <Words small>
            <Beginning>
              <Way to={`/replies?number=${encodeURIComponent(each.number)}`}>{each.name || showPhone(each.number)}</Way> “
              {each.body}”
            </Beginning>
            {each.late && <Bit plum>after the last day for replies</Bit>}
          </Words>
          {mayDo(account.role, 'write') && (
            <Row gap={6}>
              {choices.map((label, choice) => (
                <Button
                  key={label}
                  disabled={busy}
                  aria-label={`${each.name || each.number} means ${label}`}
                  onClick={() => void work(() => choose({ params: { id: each.id }, body: { choice } }))}
                >
                  {label}
                </Button>
              ))}
              <Button
                disabled={busy}
                aria-label={`${each.name || each.number} means none of them`}
                onClick={() => void work(() => choose({ params: { id: each.id }, body: { choice: null } }))}
              >
                none
              </Button>
            </Row>
          )}
        </Column>
      ))}
      {doubts > doubtful.length && (
        <Words soft small>
          and {count(doubts - doubtful.length)} more once these are said
        </Words>
      )}
      <Trouble error={error} />
    </section>
  );
}
