import { Button } from '@mui/material';
import { Type } from 'typebox';
import { useState } from 'react';
import { setup, type SetupAnswer } from '../../core/api/setup';
import { opensOnlyHere } from '../../core/plan/draft/web-address';
import { useAct } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { dayOf } from '../pieces/format';
import { Bit, Form, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble } from '../pieces/small';
import { Way } from '../pieces/ways';

const Body = Type.Object({ address: Type.String({ maxLength: 300 }) });

/** Where others get here: links in texts lead there. Tried by a browser that gets here by it, this one or that of a phone. */
export function PublicAddress({ data, manage }: { data: SetupAnswer; manage: boolean }) {
  const say = useSay();
  const save = useAct(setup.publicAddress, { shown: true });
  const [error, setError] = useState<unknown>();
  const { chosen } = data.address;
  const { origin } = window.location;
  const form = useContractForm(Body, { address: chosen });
  const submit = useSubmit(
    form,
    async ({ address }) => {
      const saved = await save({ body: { address, here: origin } });
      form.reset({ address: saved.address });
      say(saved.address === '' ? 'No public address is chosen.' : `Links lead to ${saved.address}.`);
    },
    setError,
  );
  const { isDirty, isSubmitting } = form.formState;
  return (
    <Form noValidate onSubmit={(event) => void submit(event)}>
      <Row starts nowrap most={560}>
        <FormText
          control={form.control}
          name="address"
          label="Public address"
          disabled={!manage}
          placeholder="https://texts.example.org"
          helperText="Where others get here. Links in texts, opt-out links and the calendar lead there."
          input={{ inputMode: 'url', autoCapitalize: 'off', spellCheck: false }}
        />
        {manage && (
          <Button type="submit" variant={isDirty ? 'contained' : 'outlined'} size="medium" disabled={!isDirty || isSubmitting}>
            Save it
          </Button>
        )}
      </Row>
      {manage && origin !== chosen && !opensOnlyHere(origin) && (
        <Words small>
          You are here by {origin}. <Way onClick={() => form.setValue('address', origin, { shouldDirty: true })}>take that</Way>
        </Words>
      )}
      <Leads data={data} manage={manage} />
      <Trouble error={error} />
    </Form>
  );
}

/** Whether others can open it, as far as is known. */
function Leads({ data, manage }: { data: SetupAnswer; manage: boolean }) {
  const { public_address: address } = data.workspace;
  const { tried_at: tried } = data.address;
  const { workspace: here } = useDesk();
  const prepare = useAct(setup.tryAddress);
  const { work, busy, error } = useWork();
  const [at, setAt] = useState<string>();
  if (opensOnlyHere(address))
    return (
      <Words small brick>
        Links lead to {address}, which nobody else can open.
      </Words>
    );
  return (
    <Words small>
      {tried ? `A browser got here by it on ${dayOf(tried, here.zone)}. ` : <Bit brick>Nobody has got here by it yet. </Bit>}
      {manage && !at && (
        <Way disabled={busy} onClick={() => void work(async () => setAt((await prepare({ body: {} })).address))}>
          {tried ? 'try it again' : 'try it'}
        </Way>
      )}
      {at && (
        <>
          Open this, best on a phone outside:{' '}
          <Way href={at} target="_blank" rel="noopener">
            {at}
          </Way>
        </>
      )}
      <Trouble error={error} />
    </Words>
  );
}
