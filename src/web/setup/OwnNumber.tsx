import { Button } from '@mui/material';
import { useState } from 'react';
import { session } from '../../core/api/session';
import { useAct } from '../api/client';
import { useWork } from '../api/work';
import { Field } from '../pieces/form/Field';
import { Row } from '../pieces/layout';
import { Trouble } from '../pieces/small';

/** One's own number, proved by a code that is texted to it: test texts go there, and nobody makes a stranger's number theirs. */
export function OwnNumber({ done }: { done: () => void }) {
  const ask = useAct(session.ownNumber);
  const prove = useAct(session.ownNumberCode);
  const { work, busy, error } = useWork();
  const [number, setNumber] = useState('');
  // undefined: no code has been texted yet
  const [code, setCode] = useState<string>();
  return (
    <>
      <Row>
        {code === undefined ? (
          <>
            <Row small nowrap>
              Your own number <Field label="Your own number" value={number} onChange={setNumber} autoFocus autoComplete="tel" />
            </Row>
            <Button
              variant="contained"
              disabled={busy || number.trim() === ''}
              onClick={() =>
                void work(async () => {
                  await ask({ body: { number } });
                  setCode('');
                })
              }
            >
              Text me a code
            </Button>
          </>
        ) : (
          <>
            <Row small nowrap>
              The code that came{' '}
              <Field
                key="code"
                label="The code that came"
                input={{ inputMode: 'numeric', autoComplete: 'one-time-code' }}
                value={code}
                onChange={setCode}
                autoFocus
              />
            </Row>
            <Button
              variant="contained"
              disabled={busy || code.trim() === ''}
              onClick={() =>
                void work(async () => {
                  await prove({ body: { code } });
                  done();
                })
              }
            >
              It is my number
            </Button>
            <Button onClick={() => setCode(undefined)}>Another number</Button>
          </>
        )}
      </Row>
      <Trouble error={error} />
    </>
  );
}
