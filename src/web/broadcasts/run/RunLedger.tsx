import type { RunAnswer } from '../../../core/api/sending/runs';
import { count } from '../../pieces/format';
import { Bit, Row, Words } from '../../pieces/layout';
import { State } from '../../pieces/chart/Ring';
import { LEFT_OUT_STEPS, LEFT_OUT_WORDS } from '../../../core/plan/reach/reach';
import { STATES } from './run-words';

/** Everyone accounted for: chosen, who was left out and why, and what became of the rest. It adds up, or says what came later. */
export function RunLedger({ answer }: { answer: RunAnswer }) {
  const { run, tally, ledger } = answer;
  const out = ledger
    ? LEFT_OUT_STEPS.flatMap((step) => (ledger.dropped[step] ? [[step, ledger.dropped[step]] as const] : []))
    : [];
  const wrote = ledger ? ledger.chosen - out.reduce((sum, [, n]) => sum + n, 0) : run.people;
  const line = (words: React.ReactNode, n: number, strong = false) => (
    <Row between nowrap base small pad="2px 0">
      <Bit soft={!strong} strong={strong}>
        {words}
      </Bit>
      <Bit num strong={strong}>
        {count(n)}
      </Bit>
    </Row>
  );
  return (
    <section aria-label="Everyone accounted for">
      <Words as="h2" under below={4}>
        Everyone
      </Words>
      {ledger && line('chosen', ledger.chosen, true)}
      {out.map(([step, n]) => (
        <div key={step}>{line(LEFT_OUT_WORDS[step], n)}</div>
      ))}
      {run.people !== wrote &&
        line(run.people > wrote ? 'came in until it went' : 'left before it went', Math.abs(run.people - wrote))}
      {line('written to', run.people, true)}
      {STATES.filter((state) => tally[state]).map((state) => (
        <div key={state}>{line(<State state={state} />, tally[state] ?? 0)}</div>
      ))}
    </section>
  );
}
