import ChevronLeft from '@mui/icons-material/ChevronLeft';
import ChevronRight from '@mui/icons-material/ChevronRight';
import { IconButton } from '@mui/material';
import { useEffect, useState } from 'react';
import { broadcasts, type TestedAnswer } from '../../../core/api/sending/broadcasts';
import type { Answer } from '../../../core/api/endpoint';
import type { PlanSummary, ProofText } from '../../../core/api/sending/plan';
import type { Draft } from '../../../core/plan/draft/draft';
import { ask } from '../../api/client';
import { useDesk } from '../../api/session';
import { Shown } from '../../pieces/form/choices';
import { clockTime, count, languageName, money, parts, zoneName } from '../../pieces/format';
import { Bit, Column, Row, TextBox, Words } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { useNow, useSettled } from '../../pieces/small';
import { TestTo } from './TestTo';

/** Exactly as received, stepping through real recipients: usual, longest, other words, each language, another zone. */
export function Proof({
  id,
  draft,
  plan,
  language,
  tested,
  which,
  setWhich,
  shown,
}: {
  id: number;
  draft: Draft;
  plan: PlanSummary | undefined;
  /** Whose words are shown above: they are proofed for someone who gets them. */
  language: string;
  tested: TestedAnswer | null;
  /** Whose: usual, longest, of so many parts, to a destination, a language. */
  which: string;
  setWhich: (which: string) => void;
  /** Told whose text is shown. */
  shown: (proof: ProofText | undefined) => void;
}) {
  const { offset } = useDesk();
  const now = useNow(offset, 10_000);
  const [index, setIndex] = useState(0);
  const [answer, setAnswer] = useState<Answer<typeof broadcasts.proof> | null>();
  const settled = useSettled(draft, 250);
  const [seen, setSeen] = useState({ language, which });
  if (seen.language !== language || seen.which !== which) {
    setSeen({ language, which });
    setIndex(0);
  }
  useEffect(() => {
    let current = true;
    ask(broadcasts.proof, { params: { id }, body: { draft: settled, which, index } })
      .then((next) => {
        if (!current) return;
        setAnswer(next);
        shown(next.proof ?? undefined);
      })
      // the sheet itself says what is wrong; no text stands here that may not be theirs any more
      .catch(() => current && setAnswer(null));
    return () => {
      current = false;
    };
    // the plan is another when the people are: then somebody's text may be, too
  }, [id, settled, which, index, shown, plan]);
  const proof = answer?.proof;
  const views: (readonly [string, string])[] = [
    ['usual', 'usual'],
    ['longest', 'longest'],
    ...((plan?.fallback ?? 0) > 0 ? ([['fallback', 'fallback']] as const) : []),
    ...(answer && answer.languages.length > 1 ? answer.languages.map((each) => [each, languageName(each)] as const) : []),
    ...((plan?.zones.length ?? 0) > 1 ? ([['other_zone', 'other zone']] as const) : []),
    ...(which.startsWith('parts_') ? ([[which, parts(Number(which.slice(6)))]] as const) : []),
    ...(which.startsWith('to_')
      ? ([[which, plan?.destinations.find(({ prefix }) => `to_${prefix}` === which)?.name ?? which.slice(3)]] as const)
      : []),
  ];
  return (
    <Words as="section" pad="14px 0 0" aria-label="Proof">
      <Row between nowrap line above={10}>
        <h3>Proof</h3>
        <Row nowrap fixed gap={2}>
          <IconButton
            aria-label="The one before"
            disabled={(answer?.index ?? 0) === 0}
            onClick={() => setIndex(Math.max(0, index - 1))}
          >
            <ChevronLeft fontSize="small" />
          </IconButton>
          <Bit small>
            {answer === null
              ? 'not counted'
              : !answer
                ? 'counting…'
                : answer.total > 0
                  ? `${count(answer.index + 1)} of ${count(answer.total)}`
                  : 'nobody yet'}
          </Bit>
          <IconButton
            aria-label="The next one"
            disabled={!answer || answer.index + 1 >= answer.total}
            onClick={() => setIndex(index + 1)}
          >
            <ChevronRight fontSize="small" />
          </IconButton>
        </Row>
      </Row>
      <Row small below={10}>
        <Shown label="Which recipient" value={which} options={views} onChange={setWhich} />
      </Row>
      {proof && (
        <OneProof proof={proof} plan={plan} id={id} draft={draft} which={which} index={answer.index} tested={tested} now={now} />
      )}
    </Words>
  );
}

/** One person’s text, with what it costs and when it comes. */
function OneProof({
  proof,
  plan,
  id,
  draft,
  which,
  index,
  tested,
  now,
}: {
  proof: ProofText;
  plan: PlanSummary | undefined;
  id: number;
  draft: Draft;
  which: string;
  /** Which of those. */
  index: number;
  tested: TestedAnswer | null;
  now: number;
}) {
  return (
    <Row nowrap starts gap={16}>
      <Column grow gap={8}>
        <TextBox data-proof>{proof.text}</TextBox>
        {proof.after && (
          <Column gap={2}>
            <Bit soft small>
              then, as a text of its own
            </Bit>
            <TextBox data-proof-after>{proof.after.text}</TextBox>
          </Column>
        )}
      </Column>
      <Column small width={160} gap={3} fixed>
        <b>{proof.name || 'no name'}</b>
        <Bit soft>{showPhone(proof.number)}</Bit>
        <span>
          {parts(proof.parts + (proof.after?.parts ?? 0))}, {money(proof.cost_micro, plan?.currency)}
        </span>
        <span>
          at {clockTime(proof.due, proof.zone)} {zoneName(proof.zone)}
          {proof.zone_guessed ? <Bit soft>, a guess</Bit> : ''}
        </span>
        <TestTo id={id} draft={draft} which={which} index={index} tested={tested} now={now} />
      </Column>
    </Row>
  );
}
