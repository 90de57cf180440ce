import { Button } from '@mui/material';
import { useState } from 'react';
import { Controller } from 'react-hook-form';
import { Type } from 'typebox';
import type { Answer } from '../../core/api/endpoint';
import { desk, MailBody } from '../../core/api/desk/desk';
import { Shape } from '../../core/api/shapes';
import { useAct, useGet } from '../api/client';
import { useWork } from '../api/work';
import { Tick } from '../pieces/form/choices';
import { FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { Form, FormGrid, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble, Waiting } from '../pieces/small';
import { Way } from '../pieces/ways';

const { host, port, secure, username, from_address, answers_to } = MailBody.properties;
const Fields = Shape({ host, port, secure, username, from_address, answers_to, password: Type.String({ maxLength: 200 }) });

/** The mail server that replies are passed on by. */
export default function MailPart({ manage }: { manage: boolean }) {
  const answer = useGet(desk.mail, {}, { keep: true });
  if (!answer.data) return answer.error ? <Trouble error={answer.error} /> : <Waiting what="Opening…" />;
  return <MailForm set={answer.data} manage={manage} />;
}

function MailForm({ set, manage }: { set: Answer<typeof desk.mail>; manage: boolean }) {
  const say = useSay();
  const save = useAct(desk.changeMail);
  const attempt = useAct(desk.tryMail);
  const { work, busy, error: tried } = useWork();
  const [error, setError] = useState<unknown>();
  const { has_password, practice, answers_port, ...kept } = set;
  const form = useContractForm(
    Fields,
    { ...kept, password: '' },
    { words: { host: 'A name such as mail.example.org, or an address.' } },
  );
  const { control } = form;
  const submit = useSubmit(
    form,
    async ({ password, ...body }) => {
      await save({ body: { ...body, password: password === '' ? null : password } });
      form.setValue('password', '');
      say('The mail server is saved.');
    },
    setError,
  );
  const disabled = !manage;
  return (
    <Form noValidate gap={14} onSubmit={(event) => void submit(event)}>
      <h2>Mail</h2>
      <Words soft small>
        {set.host !== ''
          ? 'Replies that are passed on by mail go by this server.'
          : practice
            ? 'No server is set: the practice mailbox stands in, and no mail leaves this machine. See it under '
            : 'No server is set: nothing is passed on by mail.'}
        {set.host === '' && practice && <Way to="/phones?show=mailbox">Phones, mailbox</Way>}
      </Words>
      <FormGrid>
        <FormText control={control} name="host" label="Server" disabled={disabled} placeholder="mail.example.org" />
        <FormText
          control={control}
          name="port"
          label="Port"
          disabled={disabled}
          read={(typed) => (/^\d+$/.test(typed.trim()) ? Number(typed) : typed)}
          input={{ inputMode: 'numeric' }}
          helperText="587 as a rule (RFC 6409), 465 with TLS from the first (RFC 8314)."
        />
        <FormText control={control} name="username" label="User" disabled={disabled} input={{ autoComplete: 'off' }} />
        <FormText
          control={control}
          name="password"
          label={has_password ? 'Password (one is kept)' : 'Password'}
          type="password"
          disabled={disabled}
          input={{ autoComplete: 'new-password' }}
        />
        <FormText control={control} name="from_address" label="Mails come from" disabled={disabled} />
        <FormText
          control={control}
          name="answers_to"
          label="Answers come to"
          disabled={disabled}
          helperText="The same, if empty. A mark is put before its @, by which an answer is known."
        />
      </FormGrid>
      <Controller
        control={control}
        name="secure"
        render={({ field }) => (
          <Tick checked={field.value === true} disabled={disabled} onChange={field.onChange}>
            TLS from the first
          </Tick>
        )}
      />
      <Words soft small>
        {answers_port === null
          ? 'Answers by mail are not taken in: start the server with MAIL_PORT, and let the mail of that address come to it.'
          : practice && set.host === ''
            ? 'Answers out of the practice mailbox are taken in.'
            : `Answers are taken in at port ${answers_port}: let the mail of that address come to it.`}
      </Words>
      <Trouble error={error ?? tried} />
      {manage && (
        <Row>
          <Button type="submit" variant="contained" disabled={!form.formState.isDirty || form.formState.isSubmitting}>
            Save
          </Button>
          <Button
            disabled={busy || form.formState.isDirty}
            onClick={() => void work(async () => say(`A mail is on its way to ${(await attempt({})).sent_to}.`))}
          >
            Send a mail to myself
          </Button>
        </Row>
      )}
    </Form>
  );
}
