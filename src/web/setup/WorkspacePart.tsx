import { Button } from '@mui/material';
import { useState } from 'react';
import type { SetupAnswer } from '../../core/api/setup';
import { setup, WorkspaceBody } from '../../core/api/setup';
import { useAct } from '../api/client';
import { useContractForm, useSubmit } from '../pieces/form/form';
import { Form, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble } from '../pieces/small';
import { PublicAddress } from './PublicAddress';
import { OptOutFields, PlaceFields, QuietFields, TextFields } from './workspace-fields';

/** The body of the settings as they stand. */
export function bodyOf({ public_address, ...kept }: SetupAnswer['workspace']): WorkspaceBody {
  void public_address; // said apart, since it is tried
  return kept;
}

/** Name, place, languages, quiet hours and wordings. */
export default function WorkspacePart({ data, manage }: { data: SetupAnswer; manage: boolean }) {
  const say = useSay();
  const save = useAct(setup.workspace);
  const [error, setError] = useState<unknown>();
  const form = useContractForm(WorkspaceBody, bodyOf(data.workspace), {
    words: { country: 'Choose a country.', currency: 'Three capital letters, such as USD (ISO 4217).' },
  });
  const submit = useSubmit(
    form,
    async (body) => {
      await save({ body });
      say('The settings are saved.');
    },
    setError,
  );
  const disabled = !manage;
  return (
    <>
      <Form noValidate gap={16} onSubmit={(event) => void submit(event)}>
        <PlaceFields form={form} disabled={disabled} fixedMoney={!data.can_change_money} />
        <Words as="h2" line above={14}>
          Quiet hours
        </Words>
        <QuietFields form={form} disabled={disabled} />
        <Words as="h2" line above={14}>
          Wordings
        </Words>
        <OptOutFields form={form} disabled={disabled} />
        <TextFields form={form} disabled={disabled} />
        <Trouble error={error} />
        {manage && (
          <Row>
            <Button type="submit" variant="contained" disabled={!form.formState.isDirty || form.formState.isSubmitting}>
              Save the settings
            </Button>
            {form.formState.isDirty && <Button onClick={() => form.reset()}>As they were</Button>}
          </Row>
        )}
      </Form>
      <Words as="h2" line above={28} pad="14px 0 10px">
        Links
      </Words>
      <PublicAddress data={data} manage={manage} />
    </>
  );
}
