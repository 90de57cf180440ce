import { Button } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { PlanSummary, ProofText } from '../../core/api/plan';
import type { Draft } from '../../core/plan/draft';
import { Refused, send } from '../api/client';
import { useDesk } from '../api/session';
import { clockTime, count, money, zoneName } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Trouble, useSettled } from '../pieces/small';

interface Answer {
  total: number;
  index: number;
  proof: ProofText | null;
  languages: string[];
}
const LANGUAGES: Record<string, string> = { en: 'English', fr: 'Français', es: 'Español' };

/** Exactly as received, stepping through real recipients: usual, longest, other words, each language, another zone. */
export function Proof({ id, draft, plan }: { id: number; draft: Draft; plan: PlanSummary | undefined }) {
  const { account } = useDesk();
  const client = useQueryClient();
  const [which, setWhich] = useState('usual');
  const [index, setIndex] = useState(0);
  const [answer, setAnswer] = useState<Answer>();
  const [said, setSaid] = useState('');
  const [error, setError] = useState<unknown>();
  const [asking, setAsking] = useState(false);
  const [own, setOwn] = useState('');
  // undefined: no code has been texted yet
  const [code, setCode] = useState<string>();
  const settled = useSettled(draft, 250);
  useEffect(() => {
    let current = true;
    send<Answer>('POST', `/api/broadcasts/${id}/proof`, { draft: settled, which, index })
      .then((next) => current && setAnswer(next))
      .catch(() => undefined); // the sheet itself says when the server is away
    return () => {
      current = false;
    };
  }, [id, settled, which, index]);
  const proof = answer?.proof;
  const tabs: [string, string][] = [
    ['usual', 'usual'],
    ['longest', 'longest'],
    ...((plan?.fallback ?? 0) > 0 ? ([['fallback', 'other words']] as [string, string][]) : []),
    ...(answer && answer.languages.length > 1
      ? answer.languages.map((each): [string, string] => [each, LANGUAGES[each] ?? each])
      : []),
    ...((plan?.zones.length ?? 0) > 1 ? ([['other_zone', 'other zone']] as [string, string][]) : []),
  ];
  const test = async () => {
    setError(undefined);
    setSaid('');
    try {
      const { number } = await send<{ number: string }>('POST', `/api/broadcasts/${id}/test`, {
        draft,
        which,
        index: answer?.index ?? 0,
      });
      setSaid(`On its way to ${showPhone(number)}.`);
    } catch (refused) {
      if (refused instanceof Refused && refused.body.place === 'own_number') setAsking(true);
      else setError(refused);
    }
  };
  const prove = async () => {
    setError(undefined);
    try {
      await send('PUT', '/api/session/own-number', { number: own });
      setCode('');
    } catch (refused) {
      setError(refused);
    }
  };
  const keep = async () => {
    setError(undefined);
    try {
      await send('POST', '/api/session/own-number/code', { code });
      setAsking(false);
      setCode(undefined);
      await client.invalidateQueries({ queryKey: ['/api/session'] });
      await test();
    } catch (refused) {
      setError(refused);
    }
  };
  return (
    <section className="line" style={{ marginTop: 14, paddingTop: 10 }} aria-label="Proof">
      <div className="row between" style={{ marginBottom: 10 }}>
        <div className="row" style={{ gap: 14 }}>
          <h3>Proof</h3>
          <div className="tabs small" role="group" aria-label="Which recipient">
            {tabs.map(([key, words]) => (
              <button
                key={key}
                type="button"
                className={which === key ? 'on' : ''}
                aria-pressed={which === key}
                onClick={() => (setWhich(key), setIndex(0))}
              >
                {words}
              </button>
            ))}
          </div>
        </div>
        <div className="row nowrap">
          <Button
            aria-label="The one before"
            disabled={(answer?.index ?? 0) === 0}
            onClick={() => setIndex(Math.max(0, index - 1))}
          >
            ‹
          </Button>
          <span className="small">
            {answer && answer.total > 0 ? `${count(answer.index + 1)} of ${count(answer.total)}` : 'nobody yet'}
          </span>
          <Button
            aria-label="The next one"
            disabled={!answer || answer.index + 1 >= answer.total}
            onClick={() => setIndex(index + 1)}
          >
            ›
          </Button>
        </div>
      </div>
      {proof && (
        <div className="row nowrap" style={{ alignItems: 'flex-start', gap: 16 }}>
          <div className="text grow" data-proof>
            {proof.text}
          </div>
          <div className="small stack" style={{ width: 138, gap: 3, flex: 'none' }}>
            <b>{proof.name || 'no name'}</b>
            <span className="soft">{showPhone(proof.number)}</span>
            <span>
              {proof.parts} {proof.parts === 1 ? 'part' : 'parts'}, {money(proof.cost_micro, plan?.currency)}
            </span>
            <span>
              at {clockTime(proof.due, proof.zone)} {zoneName(proof.zone)}
              {proof.zone_guessed ? <span className="soft">, a guess</span> : ''}
            </span>
            <div>
              <Button onClick={() => void test()}>Text this to me</Button>
            </div>
            {account.own_number && !said && <span className="soft">{showPhone(account.own_number)}</span>}
            <span role="status">{said}</span>
          </div>
        </div>
      )}
      {asking && (
        <div className="row" style={{ marginTop: 8 }}>
          {code === undefined ? (
            <>
              <label className="row small">
                Your own number <input className="field" value={own} onChange={(event) => setOwn(event.target.value)} autoFocus />
              </label>
              <Button variant="contained" disabled={own.trim() === ''} onClick={() => void prove()}>
                Text me a code
              </Button>
            </>
          ) : (
            <>
              <label className="row small">
                The code that came{' '}
                <input
                  className="field"
                  inputMode="numeric"
                  value={code}
                  onChange={(event) => setCode(event.target.value)}
                  autoFocus
                />
              </label>
              <Button variant="contained" disabled={code.trim() === ''} onClick={() => void keep()}>
                It is my number
              </Button>
              <Button onClick={() => setCode(undefined)}>Another number</Button>
            </>
          )}
        </div>
      )}
      <Trouble error={error} />
    </section>
  );
}
