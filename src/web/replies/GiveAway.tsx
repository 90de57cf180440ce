import { Button } from '@mui/material';
import { useState } from 'react';
import { FormProvider } from 'react-hook-form';
import { GiveBody, passing } from '../../core/api/desk/passing';
import type { Thread } from '../../core/api/desk/replies';
import { useAct } from '../api/client';
import { useContractForm, useSubmit } from '../pieces/form/form';
import { Form, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { SmallWindow } from '../pieces/SmallWindow';
import { Trouble } from '../pieces/small';
import { writerOf } from './reply-words';
import { AnyHour, PassToFields } from './PassToFields';

/** Gives a conversation to somebody who has no account: by text or mail, to a number or address that is typed. */
export function GiveAway({ thread, at, mail, close }: { thread: Thread; at: HTMLElement; mail: boolean; close: () => void }) {
  const say = useSay();
  const give = useAct(passing.give);
  const [error, setError] = useState<unknown>();
  const form = useContractForm(GiveBody, { number: thread.number, name: '', way: 'text', address: '', any_hour: false });
  const submit = useSubmit(
    form,
    async (body) => {
      await give({ body });
      say(givenTo(body.name));
      close();
    },
    setError,
  );
  return (
    <SmallWindow label="Pass on by text or mail" at={at} close={close} width={340}>
      <FormProvider {...form}>
        <Form noValidate gap={12} onSubmit={(event) => void submit(event)}>
          <Words soft small>
            What {writerOf(thread)} wrote goes to them; their answer goes back as a text from you. It waits here until one of you
            has answered.
          </Words>
          <PassToFields mail={mail} />
          <AnyHour />
          <Trouble error={error} />
          <Row>
            <Button type="submit" variant="contained" disabled={form.formState.isSubmitting}>
              Pass it on
            </Button>
            <Button variant="quiet" onClick={close}>
              Leave it
            </Button>
          </Row>
        </Form>
      </FormProvider>
    </SmallWindow>
  );
}

/** Said when it is done: what goes to them from now on. */
export const givenTo = (name: string): string =>
  `Passed on to ${name}, as is what they write within a week. It waits here until one of you has answered.`;
