import { recipients, type PartStory, type Recipient } from '../../../core/api/sending/recipients';
import { useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { clockTime, parts } from '../../pieces/format';
import { Bit, Column, Row, TextBox, Words } from '../../pieces/layout';
import { State } from '../../pieces/chart/Ring';
import { Trouble } from '../../pieces/small';
import { Way } from '../../pieces/ways';

/** The exact words of one recipient, what followed them, and the story of their parts. */
export function RecipientStory({ run, each }: { run: number; each: Recipient }) {
  const answer = useGet(recipients.parts, { params: { id: run, text: each.id } }, { keep: true });
  const { zone } = useDesk().workspace;
  return (
    <TextBox small>
      {each.body || 'erased'}
      {each.after && (
        <Column gap={2} above={8}>
          <Row soft small>
            <State state={each.after.state} />
            <span>followed it, {parts(each.after.parts)}</span>
            {each.after.reason && <span>({each.after.reason})</span>}
          </Row>
          {each.after.body || 'erased'}
        </Column>
      )}
      <Trouble error={answer.error} />
      <Column gap={2} above={8}>
        {(answer.data?.parts ?? []).map((part) => (
          <Row soft small gap={10} key={part.no}>
            <State state={part.state} />
            <span>
              part {part.no} of {each.parts}: {storyOf(part, (at) => clockTime(at, zone, true))}
            </span>
            {part.message_id && <Bit soft>carrier’s id {part.message_id}</Bit>}
          </Row>
        ))}
        {answer.data?.parts.length === 0 && (
          <Words soft small>
            Nothing of it was handed over.
          </Words>
        )}
      </Column>
      {each.person_id && (
        <div>
          <Way to={`/people/${each.person_id}`}>open the person</Way>
        </div>
      )}
    </TextBox>
  );
}

/** What happened to a part, in order. */
export function storyOf(part: PartStory, clock: (at: string) => string): string {
  return [
    part.written_at && `handed over ${clock(part.written_at)}${part.attempts > 1 ? ` at the ${part.attempts}th try` : ''}`,
    part.accepted_at && `taken ${clock(part.accepted_at)}`,
    part.final_at && `${part.state.replaceAll('_', ' ')} ${clock(part.final_at)}`,
    part.reason,
  ]
    .filter((words): words is string => Boolean(words))
    .join(', ');
}
