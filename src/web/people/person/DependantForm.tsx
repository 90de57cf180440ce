import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { useState } from 'react';
import { Controller } from 'react-hook-form';
import { DependantBody, dependants, Guard } from '../../../core/api/people/dependants';
import type { DependantRow } from '../../../core/api/people/people';
import { Shape } from '../../../core/api/shapes';
import { useAct } from '../../api/client';
import { ChooseField, Tick } from '../../pieces/form/choices';
import { FormText, useContractForm, useSubmit } from '../../pieces/form/form';
import { FormDate } from '../../pieces/form/form-date';
import { FormGrid, Words } from '../../pieces/layout';
import { Trouble } from '../../pieces/small';
import { useWork } from '../../api/work';
import { OwnFields } from './OwnFields';
import type { Sources } from '../sources';

export const CONTACT_WORDS: Record<number, string> = { 1: 'first contact', 2: 'second contact', 3: 'third contact' };
const Whole = Shape({ ...DependantBody.properties, ...Guard.properties });

/** Whom a person is written to about, and as which contact. */
export function DependantForm({
  personId,
  dependant,
  sources,
  close,
}: {
  personId: number;
  dependant: DependantRow | undefined;
  sources: Sources | undefined;
  close: () => void;
}) {
  const make = useAct(dependants.make);
  const change = useAct(dependants.change);
  const put = useAct(dependants.putContact);
  const take = useAct(dependants.takeContact);
  const { work, error: failed } = useWork();
  const [error, setError] = useState<unknown>();
  const form = useContractForm(Whole, {
    given_name: dependant?.given_name ?? '',
    family_name: dependant?.family_name ?? '',
    reference: dependant?.reference ?? '',
    born: dependant?.born ?? '',
    fields: dependant?.fields ?? {},
    contact: dependant?.contact ?? 1,
    must_not_receive: dependant?.must_not_receive ?? false,
  });
  const submit = useSubmit(
    form,
    async ({ contact, must_not_receive, ...body }) => {
      const guard = { contact, must_not_receive };
      if (!dependant) await make({ params: { id: personId }, body: { dependant: body, guard } });
      else {
        await change({ params: { id: dependant.id }, body });
        await put({ params: { id: dependant.id, person: personId }, body: guard });
      }
      close();
    },
    setError,
  );
  const { control, formState } = form;
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <form noValidate onSubmit={(event) => void submit(event)}>
        <DialogTitle>{dependant ? 'Change a dependant' : 'Add a dependant'}</DialogTitle>
        <DialogContent>
          <Words as="p" soft small>
            A child, a boat, an account: someone or something this person is written to about.
          </Words>
          <FormGrid above={12}>
            <FormText control={control} name="given_name" label="Given name" autoFocus />
            <FormText control={control} name="family_name" label="Family name" />
            <FormText control={control} name="reference" label="Own reference" />
            <FormDate control={control} name="born" label="Born" />
            <OwnFields control={control} fields={sources?.fields} about="dependant" />
            <Controller
              control={control}
              name="contact"
              render={({ field }) => (
                <ChooseField
                  label="This person is the"
                  value={String(field.value)}
                  options={[1, 2, 3].map((contact) => [String(contact), CONTACT_WORDS[contact]] as const)}
                  onChange={(contact) => field.onChange(Number(contact))}
                />
              )}
            />
            <Controller
              control={control}
              name="must_not_receive"
              render={({ field }) => (
                <Tick checked={field.value} onChange={field.onChange}>
                  must not receive what is about them
                </Tick>
              )}
            />
          </FormGrid>
          <Trouble error={error ?? failed} />
        </DialogContent>
        <DialogActions>
          {dependant && (
            <Button
              onClick={() =>
                void work(async () => {
                  await take({ params: { id: dependant.id, person: personId } });
                  close();
                })
              }
            >
              No longer a contact
            </Button>
          )}
          <Button onClick={close}>Leave it</Button>
          <Button type="submit" variant="contained" disabled={formState.isSubmitting}>
            {dependant ? 'Save' : 'Add'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
