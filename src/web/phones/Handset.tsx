import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useEffect, useRef, useState } from 'react';
import { phones, type Phone } from '../../core/api/desk/phones';
import { useAct } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { Field } from '../pieces/form/Field';
import { when } from '../pieces/format';
import { Bit, Bubble, Column, Row, Words } from '../pieces/layout';
import { showPhone } from '../pieces/phone';
import { Trouble, useNow } from '../pieces/small';
import { WithLinks } from './WithLinks';

const Case = styled('section')(({ theme }) => ({ border: `1px solid ${theme.bell.edge}`, background: theme.bell.card }));
const Screen = styled(Column)({ maxHeight: 250, overflow: 'auto' });

/** One practice phone: what is on its screen, at the newest, and an answer as whoever holds it. */
export function Handset({ phone }: { phone: Phone }) {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const [words, setWords] = useState('');
  const text = useAct(phones.text);
  const { work, busy, error } = useWork();
  const screen = useRef<HTMLDivElement>(null);
  const to = [...phone.texts].reverse().find((each) => each.direction === 'in')?.address ?? '72345';
  const newest = `${phone.texts.length} ${phone.texts.at(-1)?.text ?? ''}`;
  useEffect(() => {
    if (screen.current) screen.current.scrollTop = screen.current.scrollHeight;
  }, [newest]);
  return (
    <Case aria-label={`Phone ${phone.number}`}>
      <Row as="header" between base nowrap under pad="7px 11px">
        <Bit strong cut>
          {phone.name || 'no name'}
        </Bit>
        <Bit soft small nobreak>
          {showPhone(`+${phone.number}`)}
        </Bit>
      </Row>
      <Screen ref={screen} pad="9px 11px" gap={7} tabIndex={0} role="log" aria-label={`Texts on ${phone.number}`}>
        {phone.texts.map((each, i) => (
          <Bubble key={i} to={each.direction === 'out'}>
            <WithLinks text={each.text} />
            <Words soft small>
              {each.direction === 'in' ? `from ${showPhone(each.address)}` : `to ${showPhone(each.address)}`},{' '}
              {when(each.at, workspace.zone, now)}
              {each.at_once ? ', shown at once and not kept' : ''}
              {each.arrived < each.total ? `, ${each.arrived} of ${each.total} parts` : ''}
            </Words>
          </Bubble>
        ))}
      </Screen>
      {/^\+?\d/.test(to) && (
        <Row
          as="form"
          nowrap
          line
          pad="7px 9px"
          gap={6}
          onSubmit={(event: React.FormEvent) => {
            event.preventDefault();
            void work(async () => {
              await text({ params: { number: `+${phone.number}` }, body: { to, text: words } });
              setWords('');
            });
          }}
        >
          <Field
            label={`Answer as ${phone.number}`}
            placeholder="Answer as this phone"
            input={{ maxLength: 120 }}
            value={words}
            onChange={setWords}
          />
          <Button type="submit" disabled={busy || words.trim() === ''}>
            Send
          </Button>
        </Row>
      )}
      <Trouble error={error} />
    </Case>
  );
}
