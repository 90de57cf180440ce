import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { Conversation, View } from '../../core/api/desk/replies';
import { useDesk } from '../api/session';
import { ago, when } from '../pieces/format';
import { Beginning, Bit, Column, Row, Words } from '../pieces/layout';
import { Nothing } from '../pieces/small';
import { Pressed } from '../pieces/ways';
import { writerOf } from './reply-words';

const Line = styled(Pressed, { shouldForwardProp: (name) => name !== 'on' })<{ on: boolean }>(({ theme, on }) => ({
  width: '100%',
  display: 'flex',
  alignItems: 'baseline',
  gap: 14,
  padding: '11px 18px',
  borderBottom: `1px solid ${theme.bell.hairline}`,
  boxShadow: on ? `inset 4px 0 0 ${theme.bell.ink}` : undefined,
  background: on ? theme.bell.card : undefined,
  '&:hover': { background: theme.bell.card },
}));
const EMPTY: Readonly<Record<View, readonly [string, string]>> = {
  waiting: [
    'Nobody waits for an answer',
    'What people text back to a number that takes replies comes here, whoever of the team is at the desk. STOP, HELP and START are acted on by themselves; what only sounds like stop is asked.',
  ],
  others: ['Nobody else has one', 'What a colleague has claimed stands here, so that nobody answers twice.'],
  later: ['Nothing is put away', 'What is put away until a time stands here; it waits again then, or when they write again.'],
  all: ['Nobody has written yet', 'Every conversation stands here, the latest first.'],
};

/** One line a conversation: how long they wait as the large figure, who, and what they wrote last. */
export function ConversationList({
  conversations,
  view,
  searched,
  open,
  now,
  pick,
  more,
}: {
  conversations: readonly Conversation[];
  view: View;
  searched: boolean;
  /** The number of the one that is open. */
  open: string | undefined;
  now: number;
  pick: (number: string) => void;
  /** Asks for the next page, where there is one. */
  more: (() => void) | undefined;
}) {
  const { account, workspace } = useDesk();
  if (conversations.length === 0) {
    const [title, words] = searched
      ? ['Nothing found', 'Conversations are found by words of theirs or of an answer, by name and by number.']
      : EMPTY[view];
    return (
      <Column pad="0 18px">
        <Nothing title={title}>{words}</Nothing>
      </Column>
    );
  }
  return (
    <>
      {conversations.map((each) => {
        const { since, later_at, claimed_by, last } = each;
        return (
          <Line
            key={each.number}
            on={open === each.number}
            aria-current={open === each.number ? 'true' : undefined}
            onClick={() => pick(each.number)}
          >
            <Bit fig figure={since ? 'mid' : undefined} width={84} fixed>
              {since ? ago(now - Date.parse(since)) : when(last.at, workspace.zone, now)}
            </Bit>
            <Words grow>
              <Bit strong>{writerOf(each)}</Bit>{' '}
              <Bit soft small>
                {each.run}
              </Bit>
              {each.opted_out && (
                <Bit brick small>
                  {' '}
                  opted out
                </Bit>
              )}
              {each.doubtful !== null && (
                <Bit plum small>
                  {' '}
                  {each.doubtful !== last.body && `“${each.doubtful.slice(0, 60)}” `}
                  may mean stop, not texted meanwhile
                </Bit>
              )}
              <Beginning>{last.body || <i>erased</i>}</Beginning>
              {(each.waiting > 1 || claimed_by || later_at) && (
                <Words soft small>
                  {[
                    each.waiting > 1 ? `${each.waiting} texts wait` : '',
                    claimed_by ? `claimed by ${claimed_by.id === account.id ? 'you' : claimed_by.name}` : '',
                    later_at && Date.parse(later_at) > now ? `put away until ${when(later_at, workspace.zone, now)}` : '',
                  ]
                    .filter((words) => words !== '')
                    .join(' · ')}
                </Words>
              )}
            </Words>
          </Line>
        );
      })}
      {more && (
        <Row pad="10px 18px">
          <Button onClick={more}>Show more</Button>
        </Row>
      )}
    </>
  );
}
