import { Button } from '@mui/material';
import { useState } from 'react';
import { Type } from 'typebox';
import { calendar } from '../../core/api/sending/calendar';
import { Password, session } from '../../core/api/session';
import { mayDo } from '../../core/api/roles';
import { accounts } from '../../core/api/setup';
import { useAct } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { TypedValue } from '../pieces/form/choices';
import { FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { Facts, Form, Row, Words } from '../pieces/layout';
import { NewPassword, PASSWORD_WORDS } from '../pieces/form/NewPassword';
import { showPhone } from '../pieces/phone';
import { useSay } from '../pieces/Said';
import { Sides } from '../pieces/Sides';
import { Trouble } from '../pieces/small';
import { Way } from '../pieces/ways';
import { OwnNumber } from './OwnNumber';

const Passwords = Type.Object({
  old: Type.String({ minLength: 1, maxLength: 200 }),
  password: Password,
});

/** One's own account: number for test texts, password, sessions. */
export default function AccountPart() {
  const { account } = useDesk();
  const say = useSay();
  const change = useAct(accounts.password);
  const end = useAct(accounts.signOutEverywhere);
  const { work, busy, error: failed } = useWork();
  const [proving, setProving] = useState(false);
  const [error, setError] = useState<unknown>();
  const form = useContractForm(Passwords, { old: '', password: '' }, { words: { password: PASSWORD_WORDS } });
  const submit = useSubmit(
    form,
    async (body) => {
      await change({ body });
      form.reset({ old: '', password: '' });
      say('The password is changed; every other session has ended.');
    },
    setError,
  );
  return (
    <Sides
      beside={
        <>
          <Calendar />
          <Words as="h2" line pad="14px 0 8px">
            Sessions
          </Words>
          <Row>
            <Button
              disabled={busy}
              onClick={() =>
                void work(async () => {
                  const { ended } = await end({});
                  say(
                    ended === 0
                      ? 'There was no other session.'
                      : ended === 1
                        ? 'One other session has ended.'
                        : `${ended} others have ended.`,
                  );
                })
              }
            >
              Sign out everywhere else
            </Button>
          </Row>
          <Trouble error={failed} />
        </>
      }
    >
      <h2>{account.name}</h2>
      <Facts pad="8px 0">
        <dt>Address</dt>
        <dd>{account.email}</dd>
        <dt>Role</dt>
        <dd>{account.role}</dd>
        <dt>Own number</dt>
        <dd>
          {account.own_number ? showPhone(account.own_number) : 'not said yet; test texts go there'}{' '}
          {mayDo(account.role, 'write') && !proving && (
            <Way small onClick={() => setProving(true)}>
              {account.own_number ? 'another one' : 'say it'}
            </Way>
          )}
        </dd>
        <dt>Place</dt>
        <dd>
          <Place />
        </dd>
      </Facts>
      {proving && (
        <OwnNumber
          done={() => {
            setProving(false);
            say('That is your number now.');
          }}
        />
      )}
      <Form noValidate gap={12} onSubmit={(event) => void submit(event)}>
        <Words as="h2" line above={14}>
          Password
        </Words>
        <Words most={380}>
          <FormText control={form.control} name="old" label="Password now" type="password" autoComplete="current-password" />
        </Words>
        <Words most={380}>
          <NewPassword control={form.control} />
        </Words>
        <Trouble error={error} />
        <Row>
          <Button type="submit" variant="contained" disabled={form.formState.isSubmitting}>
            Change the password
          </Button>
        </Row>
      </Form>
    </Sides>
  );
}

/** What is scheduled, in whatever program shows one's calendars: an address that is shown once. */
function Calendar() {
  const begin = useAct(calendar.begin);
  const end = useAct(calendar.end);
  const say = useSay();
  const { work, busy, error } = useWork();
  const [address, setAddress] = useState('');
  return (
    <>
      <Words as="h2" line pad="14px 0 8px">
        Calendar
      </Words>
      <Words soft small below={8}>
        What is scheduled, in a program that shows calendars. Whoever has the address sees names and times of broadcasts, and no
        person.
      </Words>
      {address !== '' && (
        <Words small below={8} anywhere role="status">
          <b>{address}</b>
          <br />
          It is shown this once; another takes its place.
        </Words>
      )}
      <Row>
        <Button
          disabled={busy}
          onClick={() => void work(async () => setAddress(`${window.location.origin}${(await begin({})).path}`))}
        >
          Make an address
        </Button>
        <Way
          small
          onClick={() =>
            void work(async () => {
              await end({});
              setAddress('');
              say('There is no address of your calendar any more.');
            })
          }
        >
          end the one there is
        </Way>
      </Row>
      <Trouble error={error} />
    </>
  );
}

/** Landing, desk, class: where one works, for words that name who writes them. Kept when one is done typing. */
function Place() {
  const { account } = useDesk();
  const keep = useAct(session.place);
  const { work, error } = useWork();
  const [typed, setTyped] = useState(account.place);
  const done = () => {
    if (typed.trim() !== account.place) void work(() => keep({ body: { place: typed } }));
  };
  return (
    <>
      <TypedValue
        label="Landing or desk, for words that say who writes"
        placeholder="landing or desk"
        value={typed}
        onChange={(next) => setTyped(next.slice(0, 60))}
        onBlur={done}
        onKeyDown={(event) => event.key === 'Enter' && done()}
      />
      <Trouble error={error} />
    </>
  );
}
