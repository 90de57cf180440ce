import { Button, TextField } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { useNavigate } from 'react-router';
import { send } from '../api/client';
import { Bell } from '../pieces/Ring';
import { Trouble, useTitle } from '../pieces/small';

function Door({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <div className="app">
      <header className="top">
        <span className="brand">
          <Bell /> Yellow Bell
        </span>
      </header>
      <main style={{ maxWidth: 380, width: 'calc(100% - 32px)', margin: '12vh auto 0' }}>
        <h1 style={{ marginBottom: 16 }}>{title}</h1>
        {children}
      </main>
    </div>
  );
}

export function SignIn() {
  useTitle('Sign in');
  const client = useQueryClient();
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const [error, setError] = useState<unknown>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setError(undefined);
    try {
      await send('POST', '/api/sign-in', { email, password });
      await client.invalidateQueries();
    } catch (refused) {
      setError(refused);
    }
  };
  return (
    <Door title="Sign in">
      <form className="stack" onSubmit={(event) => void submit(event)} style={{ gap: 14 }}>
        <TextField
          label="E-mail address"
          type="email"
          autoComplete="username"
          value={email}
          onChange={(event) => setEmail(event.target.value)}
          autoFocus
        />
        <TextField
          label="Password"
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
        <Trouble error={error} />
        <Button type="submit" variant="contained" size="medium">
          Sign in
        </Button>
      </form>
    </Door>
  );
}

export function Join({ token }: { token: string }) {
  useTitle('Make your account');
  const navigate = useNavigate();
  const client = useQueryClient();
  const [form, setForm] = useState({ name: '', email: '', password: '' });
  const [error, setError] = useState<unknown>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      await send('POST', '/api/invitation', { token, ...form });
      // the account is signed in with its making
      await navigate('/');
      await client.invalidateQueries();
    } catch (refused) {
      setError(refused);
    }
  };
  const field = (name: keyof typeof form) => ({
    value: form[name],
    onChange: (event: { target: { value: string } }) => setForm({ ...form, [name]: event.target.value }),
  });
  return (
    <Door title="Make your account">
      <form className="stack" onSubmit={(event) => void submit(event)} style={{ gap: 14 }}>
        <TextField label="Your name" autoComplete="name" {...field('name')} autoFocus />
        <TextField label="E-mail address" type="email" autoComplete="username" {...field('email')} />
        <TextField
          label="Password"
          type="password"
          autoComplete="new-password"
          helperText="At least 12 characters; a few words do well."
          {...field('password')}
        />
        <Trouble error={error} />
        <Button type="submit" variant="contained" size="medium">
          Make the account
        </Button>
      </form>
    </Door>
  );
}
