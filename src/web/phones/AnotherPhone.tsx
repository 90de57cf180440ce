import { Button } from '@mui/material';
import { useState } from 'react';
import { phones } from '../../core/api/desk/phones';
import { setup } from '../../core/api/setup';
import { useAct, useGet } from '../api/client';
import { useWork } from '../api/work';
import { ChooseField } from '../pieces/form/choices';
import { Field } from '../pieces/form/Field';
import { Form } from '../pieces/layout';
import { showPhone } from '../pieces/phone';
import { SmallWindow } from '../pieces/SmallWindow';
import { Trouble } from '../pieces/small';

/** Texts the desk as a phone that has nothing on its screen yet: somebody who writes first. */
export function AnotherPhone() {
  const [anchor, setAnchor] = useState<HTMLElement>();
  const [number, setNumber] = useState('');
  const [words, setWords] = useState('');
  const [chosen, setChosen] = useState('');
  const senders = useGet(setup.get, anchor ? {} : undefined, { keep: true }).data?.senders.filter(({ kind }) => kind !== 'name');
  const to = chosen || (senders?.at(0)?.address ?? '');
  const text = useAct(phones.text);
  const { work, busy, error } = useWork();
  const close = () => setAnchor(undefined);
  return (
    <>
      <Button aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
        Text as another phone
      </Button>
      {anchor && (
        <SmallWindow label="Text as another phone" at={anchor} close={close} width={320} gap={10}>
          <Form
            gap={10}
            onSubmit={(event) => {
              event.preventDefault();
              void work(async () => {
                await text({ params: { number }, body: { to, text: words } });
                setWords('');
                close();
              });
            }}
          >
            <Field label="Its number" placeholder="+1 207 555 0166" autoFocus value={number} onChange={setNumber} />
            {senders && senders.length > 1 && (
              <ChooseField
                label="To"
                value={to}
                options={senders.map(({ address, name }) => [address, `${name}, ${showPhone(address)}`] as const)}
                onChange={setChosen}
              />
            )}
            <Field label="What it says" input={{ maxLength: 600 }} value={words} onChange={setWords} />
            <Trouble error={error} />
            <Button type="submit" variant="contained" disabled={busy || number.trim() === '' || words.trim() === '' || to === ''}>
              Text the desk
            </Button>
          </Form>
        </SmallWindow>
      )}
    </>
  );
}
