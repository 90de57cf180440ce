import type { RunOutcome } from '../../../core/outcome/outcomes';
import type { RunAnswer } from '../../../core/api/sending/runs';

/** What may become of a text, in the order of the bar. */
export const STATES = [
  'delivered',
  'with_carrier',
  'handing_over',
  'not_delivered',
  'expired',
  'uncertain',
  'not_sent',
  'planned',
] as const;

export interface RunFilter {
  state?: string;
  reason?: string;
  outcome?: RunOutcome;
  language?: string;
  zone?: string;
  search?: string;
}

/** What is still open of a run that goes out or has gone out: '' when nothing is. */
export function stillOpen(run: Pick<RunAnswer['run'], 'state' | 'ended_at'>, tally: Readonly<Record<string, number>>): string {
  const withCarrier = tally.with_carrier ?? 0;
  const handing = tally.handing_over ?? 0;
  const uncertain = tally.uncertain ?? 0;
  const begun = run.state === 'sending' || run.state === 'settling' || run.state === 'finished' || run.state === 'stopped';
  if (!begun || (tally.planned ?? 0) > 0) return '';
  const open = [
    handing > 0 && `${handing.toLocaleString('en-US')} being handed over`,
    withCarrier > 0 && `${withCarrier.toLocaleString('en-US')} with the carrier`,
    uncertain > 0 && `${uncertain.toLocaleString('en-US')} uncertain`,
  ].filter((words) => words !== false);
  if (open.length === 0) return '';
  const head = run.state === 'stopped' ? 'the rest is canceled' : handing > 0 ? 'the last are going' : 'all handed over';
  return `${head}; ${open.join(', ')}`;
}
