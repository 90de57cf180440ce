import { Button } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { Type } from 'typebox';
import { Password, session } from '../../core/api/session';
import { accounts, setup } from '../../core/api/setup';
import { ask } from '../api/client';
import { FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { Form, Words } from '../pieces/layout';
import { NewPassword } from '../pieces/form/NewPassword';
import { Bell } from '../pieces/chart/Ring';
import { Trouble, useTitle } from '../pieces/small';
import { Brand, Page, Top } from './bars';

const Middle = styled('main')({ maxWidth: 380, width: 'calc(100% - 32px)', margin: '12vh auto 0' });

function Door({ title, children }: { title: string; children: ReactNode }) {
  useTitle(title);
  return (
    <Page>
      <Top>
        <Brand to="/" aria-label="Yellow Bell">
          <Bell /> <span>Yellow Bell</span>
        </Brand>
      </Top>
      <Middle>
        <Words as="h1" below={16}>
          {title}
        </Words>
        {children}
      </Middle>
    </Page>
  );
}

const Credentials = Type.Object({
  email: Type.String({ minLength: 1, maxLength: 200 }),
  password: Type.String({ minLength: 1, maxLength: 200 }),
});

export function SignIn() {
  const client = useQueryClient();
  const [error, setError] = useState<unknown>();
  const form = useContractForm(Credentials, { email: '', password: '' }, { guards: false });
  const submit = useSubmit(
    form,
    async (values) => {
      await ask(session.signIn, { body: values });
      await client.invalidateQueries();
    },
    setError,
  );
  const { control } = form;
  return (
    <Door title="Sign in">
      <Form noValidate onSubmit={(event) => void submit(event)}>
        <FormText control={control} name="email" label="E-mail address" type="email" autoComplete="username" autoFocus />
        <FormText control={control} name="password" label="Password" type="password" autoComplete="current-password" />
        <Trouble error={error} />
        <Button type="submit" variant="contained" size="medium" disabled={form.formState.isSubmitting}>
          {form.formState.isSubmitting ? 'Signing in…' : 'Sign in'}
        </Button>
      </Form>
    </Door>
  );
}

const NewAccount = Type.Object({
  name: Type.String({ minLength: 1, maxLength: 100 }),
  email: Type.String({ format: 'email', maxLength: 200 }),
  password: Password,
});

export function Join({ token }: { token: string }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [error, setError] = useState<unknown>();
  const form = useContractForm(NewAccount, { name: '', email: '', password: '' }, { guards: false });
  const submit = useSubmit(
    form,
    async (values) => {
      await ask(session.join, { body: { token, ...values } });
      // the account is signed in with its making; a workspace that is new is set up first
      const { missing } = await ask(setup.get, {});
      await client.invalidateQueries();
      await navigate(missing.some((each) => each.part === 'start') ? '/start' : '/');
    },
    setError,
  );
  const { control } = form;
  return (
    <Door title="Make your account">
      <Form noValidate onSubmit={(event) => void submit(event)}>
        <FormText control={control} name="name" label="Your name" autoComplete="name" autoFocus />
        <FormText control={control} name="email" label="E-mail address" type="email" autoComplete="username" />
        <NewPassword control={control} label="Password" />
        <Trouble error={error} />
        <Button type="submit" variant="contained" size="medium" disabled={form.formState.isSubmitting}>
          Make the account
        </Button>
      </Form>
    </Door>
  );
}

const ChosenAnew = Type.Object({ password: Password });

/** Somebody who manages has reset the password: another one is chosen with the link. */
export function Reset({ token }: { token: string }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [error, setError] = useState<unknown>();
  const form = useContractForm(ChosenAnew, { password: '' }, { guards: false });
  const submit = useSubmit(
    form,
    async (values) => {
      await ask(accounts.chooseNew, { body: { token, ...values } });
      await navigate('/');
      await client.invalidateQueries();
    },
    setError,
  );
  return (
    <Door title="Choose a new password">
      <Form noValidate onSubmit={(event) => void submit(event)}>
        <NewPassword control={form.control} autoFocus />
        <Trouble error={error} />
        <Button type="submit" variant="contained" size="medium" disabled={form.formState.isSubmitting}>
          Choose it and sign in
        </Button>
      </Form>
    </Door>
  );
}
