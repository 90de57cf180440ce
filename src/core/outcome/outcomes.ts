/** Whom an earlier run's outcome names; what somebody texts next is chosen by it. */
export const RUN_OUTCOMES = [
  'delivered',
  'not_delivered',
  'uncertain',
  'not_sent',
  'left',
  'answered',
  'not_answered',
  'clicked',
  'not_clicked',
] as const;
export type RunOutcome = (typeof RUN_OUTCOMES)[number];

export const OUTCOME_WORDS: Readonly<Record<RunOutcome, string>> = {
  delivered: 'delivered',
  not_delivered: 'not delivered',
  uncertain: 'uncertain',
  not_sent: 'not sent',
  left: 'already on its way or there',
  answered: 'answered',
  not_answered: 'no answer',
  clicked: 'clicked',
  not_clicked: 'not clicked',
};
