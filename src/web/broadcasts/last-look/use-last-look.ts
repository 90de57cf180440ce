import { useCallback, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { broadcasts, type BroadcastAnswer } from '../../../core/api/sending/broadcasts';
import type { PlanSummary } from '../../../core/api/sending/plan';
import { ask, Refused, useAct } from '../../api/client';

export interface Looked {
  /** What is looked at; undefined until it is counted. */
  shown: { broadcast: BroadcastAnswer; plan: PlanSummary } | undefined;
  error: unknown;
  /** What a refused press was shown, to say what is different now. */
  refusedWith: PlanSummary | undefined;
  /** A press is being asked about. */
  pressed: boolean;
  look(): Promise<void>;
  press(): Promise<void>;
}

/** A last look and its press: what is pressed is what is shown, under its digest, and once. */
export function useLastLook(id: number): Looked {
  const navigate = useNavigate();
  const [broadcast, setBroadcast] = useState<BroadcastAnswer>();
  const [counted, setCounted] = useState<{ plan: PlanSummary; digest: string }>();
  const [error, setError] = useState<unknown>();
  const [refusedWith, setRefusedWith] = useState<PlanSummary>();
  const [pressed, setPressed] = useState(false);
  const send = useAct(broadcasts.press);
  // one id for one press, however often the button is hit or the line breaks: what was not refused may have been done
  const pressId = useRef('');
  const look = useCallback(async () => {
    try {
      const answer = await ask(broadcasts.get, { params: { id } });
      setBroadcast(answer);
      setCounted(await ask(broadcasts.plan, { params: { id }, body: { draft: answer.draft, reserve: true } }));
      setError(undefined);
      pressId.current ||= crypto.randomUUID();
    } catch (refused) {
      setError(refused);
    }
  }, [id]);
  useEffect(() => {
    void look();
  }, [look]);
  const press = async () => {
    if (!broadcast || !counted) return;
    setPressed(true);
    setError(undefined);
    try {
      const { run_id } = await send({
        params: { id },
        body: { version: broadcast.version, digest: counted.digest, press_id: pressId.current },
      });
      await navigate(run_id === null ? `/broadcasts/${id}` : `/runs/${run_id}`);
      // whoever goes back before that view has loaded never left this one: it shows what became of the press, and does not ask for ever
      const after = await ask(broadcasts.get, { params: { id } });
      setBroadcast(after);
      setPressed(after.state === 'draft');
    } catch (refused) {
      if (refused instanceof Refused && refused.status >= 400 && refused.status < 500) pressId.current = '';
      setRefusedWith(refused instanceof Refused && refused.status === 409 ? counted.plan : undefined);
      await look();
      setPressed(false);
      setError(refused);
    }
  };
  return { shown: broadcast && counted && { broadcast, plan: counted.plan }, error, refusedWith, pressed, look, press };
}
