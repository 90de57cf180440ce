import { Button } from '@mui/material';
import { useState } from 'react';
import { people, type KnownPerson } from '../../../core/api/people/people';
import { mayDo } from '../../../core/api/roles';
import { useAct } from '../../api/client';
import { useDesk } from '../../api/session';
import { Field } from '../../pieces/form/Field';
import { when } from '../../pieces/format';
import { Bubble, Column, Row, Words } from '../../pieces/layout';
import { Way } from '../../pieces/ways';
import { nameOf } from '../sources';

/** What was last said with a person, the latest last. */
export function LastTexts({ texts, now }: { texts: KnownPerson['texts']; now: number }) {
  const thread = [...texts].sort((a, b) => (a.at < b.at ? -1 : 1));
  const { workspace } = useDesk();
  return (
    <Column gap={7}>
      {thread.length === 0 && (
        <Words as="p" soft small>
          None yet.
        </Words>
      )}
      {thread.map((text) => (
        <Bubble key={`${text.direction}${text.id}`} to={text.direction === 'to'}>
          {text.body || <i>erased</i>}
          <Words soft small>
            {when(text.at, workspace.zone, now)}
            {text.state ? ` · ${text.state.replaceAll('_', ' ')}` : ''}
            {text.reason ? `: ${text.reason}` : ''}
            {text.run && text.run_id ? (
              <>
                {' · '}
                <Way to={`/runs/${text.run_id}`}>{text.run}</Way>
              </>
            ) : (
              ''
            )}
          </Words>
        </Bubble>
      ))}
    </Column>
  );
}

/** A text to this person alone, for who may send. */
export function TextThem({
  person,
  busy,
  act,
}: {
  person: KnownPerson['person'];
  busy: boolean;
  act: (what: () => Promise<unknown>) => Promise<void>;
}) {
  const { account } = useDesk();
  const sendText = useAct(people.text);
  const [words, setWords] = useState('');
  if (!mayDo(account.role, 'send') || person.reach !== 'yes') return null;
  return (
    <Row
      as="form"
      nowrap
      onSubmit={(event: React.FormEvent) => {
        event.preventDefault();
        void act(async () => {
          await sendText({ params: { id: person.id }, body: { words } });
          setWords('');
        });
      }}
    >
      <Field
        label={`Text ${nameOf(person)}`}
        placeholder={`Text ${person.given_name || 'them'}…`}
        value={words}
        onChange={setWords}
      />
      <Button type="submit" variant="contained" disabled={busy || words.trim() === ''}>
        Send
      </Button>
    </Row>
  );
}
