import { Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import type { PlanSummary, ProofText } from '../../../core/api/sending/plan';
import { mayDo } from '../../../core/api/roles';
import { beginsAtOnce } from '../when/at-once';
import { leftOutWords } from '../audience/audience-words';
import type { Draft } from '../../../core/plan/draft/draft';
import { ask, Refused, useAct } from '../../api/client';
import { useDesk } from '../../api/session';
import { useWork } from '../../api/work';
import { count, money, parts, people, when } from '../../pieces/format';
import { Bit, Column, Row, TextBox, Words } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { Trouble, useNow } from '../../pieces/small';
import { Way } from '../../pieces/ways';
import { A_DOZEN } from '../../people/for-others';
import { Different } from '../last-look/Different';
import { Counting } from '../sheet/Counting';
import { useDraft } from '../sheet/draft-state';

/** Each text as it goes, what it comes to, and the one irreversible act. */
export function ShortEnding({ id, state, draft }: { id: number; state: ReturnType<typeof useDraft>; draft: Draft }) {
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 20_000);
  const navigate = useNavigate();
  const { plan, planning, digest } = state;
  const few = plan !== undefined && plan.people > 0 && plan.people <= A_DOZEN;
  const asked = useQuery({
    // of this very plan and these very words: others may stand there meanwhile, but nothing is sent from them
    queryKey: ['texts of a short one', id, digest, draft],
    queryFn: () => ask(broadcasts.proofs, { params: { id }, body: { draft } }),
    enabled: few && !planning,
    placeholderData: (before) => before,
    gcTime: 20_000,
  });
  const texts = asked.data?.proofs;
  const shown = asked.isSuccess && !asked.isPlaceholderData;
  // what was not seen is never sent: a press that comes before says so
  const counted = !planning && (shown || !few);
  const [early, setEarly] = useState(false);
  const send = useAct(broadcasts.press);
  const { work, busy, error } = useWork();
  // one id for one press, however often the button is hit or the line breaks
  const pressId = useRef(crypto.randomUUID());
  const [refusedWith, setRefusedWith] = useState<PlanSummary>();
  if (!plan) return <Counting error={state.uncounted} />;
  // what the small sheet does not show is looked at on the large one
  const whole =
    plan.people > A_DOZEN ||
    plan.codes !== null ||
    draft.when.kind !== 'now' ||
    Object.values(draft.translations ?? {}).some((words) => words !== '');
  const press = () => {
    setEarly(false);
    void work(async () => {
      const version = await state.flush();
      try {
        const { run_id } = await send({
          params: { id },
          body: { version: version ?? 0, digest: digest ?? '', press_id: pressId.current },
        });
        await navigate(`/runs/${run_id ?? ''}`);
      } catch (refused) {
        if (refused instanceof Refused && refused.status >= 400 && refused.status < 500) pressId.current = crypto.randomUUID();
        if (refused instanceof Refused && refused.status === 409) setRefusedWith(plan);
        state.countAnew();
        throw refused;
      }
    });
  };
  const left = leftOutWords(plan.dropped);
  return (
    <section aria-label="Send">
      <Column gap={10}>
        {few && !whole && <Texts texts={texts} now={now} />}
        {left !== '' && <Words small>Will not get it: {left}.</Words>}
        {plan.copies && <Words small>A copy goes to {plan.copies.names.join(', ')} of the desk, counted in the cost.</Words>}
        {plan.must_fix.map((each) => (
          <Words brick small key={each.message}>
            {each.message}
          </Words>
        ))}
        {plan.hints
          .filter((hint) => !draft.dismissed?.includes(hint.check))
          .map((hint) => (
            <Words soft small key={hint.message}>
              {hint.message}
            </Words>
          ))}
        <Trouble error={error ?? asked.error ?? (state.saved === 'not saved' ? state.error : undefined)} />
        {refusedWith && <Different before={refusedWith} after={plan} zone={workspace.zone} now={now} />}
        <Row between>
          <Row base gap={12}>
            <Bit fig figure="mid">
              {planning ? '…' : count(plan.people)}
            </Bit>
            <span>
              {plan.people === 1 ? 'person' : 'people'}, {parts(plan.parts)}, {money(plan.cost_micro, plan.currency)} · from{' '}
              {plan.sender?.name ?? 'no sender'} · {draft.purpose === 'service' ? 'service notice' : 'marketing'}
            </span>
          </Row>
          {whole ? (
            <Button
              variant="go"
              disabled={!planning && plan.must_fix.length > 0}
              onClick={() =>
                void work(async () => {
                  await state.flush();
                  await navigate(`/broadcasts/${id}/last-look`);
                })
              }
            >
              Last look
            </Button>
          ) : mayDo(account.role, 'send') ? (
            <Button
              variant="go"
              disabled={busy || (counted && plan.must_fix.length > 0)}
              aria-describedby={early ? 'short-early' : undefined}
              onClick={counted ? press : () => setEarly(true)}
            >
              {counted
                ? `Send to ${people(plan.people)} ${beginsAtOnce(draft, plan, now) ? 'now' : plan.first ? `at\u00a0${when(plan.first, workspace.zone, now)}` : ''}`
                : 'Counting…'}
            </Button>
          ) : (
            <span>
              Your role is “{account.role}”: someone who may send <Way to={`/broadcasts/${id}/last-look`}>has to press</Way>.
            </span>
          )}
        </Row>
        {early && <Early counted={counted} />}
        <Words soft small>
          For {plan.takeback_seconds} seconds after it you can take it back. After that it cannot be called back.
        </Words>
      </Column>
    </section>
  );
}

/** What became of a press that came before it was counted. */
function Early({ counted }: { counted: boolean }) {
  return (
    <Words small brick id="short-early" role="status">
      {counted
        ? 'It was pressed before it was counted, and nothing went. The texts above are what goes: press again.'
        : 'It is being counted. Press when the texts stand above.'}
    </Words>
  );
}

/** Each text as it goes. */
function Texts({ texts, now }: { texts: readonly ProofText[] | undefined; now: number }) {
  const { workspace } = useDesk();
  return (
    <Column as="ul" gap={6} aria-label="Texts">
      {(texts ?? []).map((text) => (
        <li key={text.number}>
          <Row small soft between>
            <span>
              {text.name || 'no name'}, {showPhone(text.number)}
            </span>
            <span>
              {parts(text.parts + (text.after?.parts ?? 0))}, {when(text.due, workspace.zone, now)}
            </span>
          </Row>
          <TextBox pad="6px 10px">
            {text.text}
            {text.after && (
              <Words soft above={6}>
                then, as a text of its own: {text.after.text}
              </Words>
            )}
          </TextBox>
        </li>
      ))}
    </Column>
  );
}
