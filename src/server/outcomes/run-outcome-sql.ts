import type { RunOutcome } from '../../core/outcome/outcomes';

const ANSWER = `inbound.run_id = o.run_id AND inbound.number = o.number AND inbound.kind IN ('reply', 'maybe_stop')`;
const CLICK = `EXISTS (SELECT 1 FROM link WHERE link.outbound_id = o.id AND link.clicked_at IS NOT NULL)`;

/**
 * Texts of a run (`outbound o`) by what became of them, as SQL. A text that is uncertain may have arrived: it is among those that
 * left, never among those that were not delivered, or it would go twice without anybody having said so.
 *
 * @param wordsSql SQL of a pattern that an answer must match, or of null
 */
export function outcomeSql(outcome: RunOutcome, wordsSql = 'NULL::text'): string {
  switch (outcome) {
    case 'delivered':
    case 'uncertain':
    case 'not_sent':
      return `o.state = '${outcome}'`;
    case 'not_delivered':
      return `o.state IN ('not_delivered', 'expired')`;
    case 'left':
      return `o.state IN ('handing_over', 'with_carrier', 'delivered', 'uncertain')`;
    case 'answered':
      return `EXISTS (SELECT 1 FROM inbound WHERE ${ANSWER} AND (${wordsSql} IS NULL OR inbound.body ILIKE ${wordsSql}))`;
    case 'not_answered':
      return `o.state = 'delivered' AND NOT EXISTS (SELECT 1 FROM inbound WHERE ${ANSWER})`;
    case 'clicked':
      return CLICK;
    case 'not_clicked':
      return `o.state = 'delivered' AND EXISTS (SELECT 1 FROM link WHERE link.outbound_id = o.id AND NOT link.opt_out) AND NOT ${CLICK}`;
  }
}
