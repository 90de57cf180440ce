import { Button } from '@mui/material';
import { useState } from 'react';
import type { UseFormReturn } from 'react-hook-form';
import type { SetupAnswer } from '../../core/api/setup';
import { setup, WorkspaceBody } from '../../core/api/setup';
import { useAct } from '../api/client';
import { useContractForm, useSubmit } from '../pieces/form/form';
import { Form, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Sides } from '../pieces/Sides';
import { Trouble } from '../pieces/small';
import { PublicAddress } from './PublicAddress';
import { PlaceFields, QuietFields, RuleFields } from './workspace-fields';

/** The body of the settings as they stand. */
export function bodyOf({ public_address, ...kept }: SetupAnswer['workspace']): WorkspaceBody {
  void public_address; // said apart, since it is tried
  return kept;
}

/** Name, place, languages, quiet hours, and whom notices go to. */
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
    <Sides
      beside={
        <>
          <Words as="h2" below={10}>
            Links
          </Words>
          <PublicAddress data={data} manage={manage} />
        </>
      }
    >
      <Form noValidate gap={16} onSubmit={(event) => void submit(event)}>
        <PlaceFields form={form} disabled={disabled} fixedMoney={!data.can_change_money} />
        <Words as="h2" line above={14}>
          Quiet hours
        </Words>
        <QuietFields form={form} disabled={disabled} />
        <Words as="h2" line above={14}>
          Who gets what, and how late
        </Words>
        <RuleFields form={form} disabled={disabled} />
        <Trouble error={error} />
        {manage && <Keeping form={form} />}
      </Form>
    </Sides>
  );
}

/** Saves what was changed, or puts it back. */
export function Keeping({ form }: { form: UseFormReturn<WorkspaceBody> }) {
  const { isDirty, isSubmitting } = form.formState;
  return (
    <Row>
      <Button type="submit" variant="contained" disabled={!isDirty || isSubmitting}>
        Save the settings
      </Button>
      {isDirty && <Button onClick={() => form.reset()}>As they were</Button>}
    </Row>
  );
}
