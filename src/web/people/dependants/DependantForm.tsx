import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { useState } from 'react';
import { Controller, type Control, type FieldValues } from 'react-hook-form';
import type { Static } from 'typebox';
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
import { OwnFields } from '../person/OwnFields';
import type { PersonRow, Sources } from '../sources';
import { PersonPicker } from './PersonPicker';

export const CONTACT_WORDS: Record<number, string> = { 1: 'first contact', 2: 'second contact', 3: 'third contact' };
const Whole = Shape({ ...DependantBody.properties, ...Guard.properties });

/**
 * Whom somebody is written to about: from a person, who is then one of their contacts; or from the dependants, where a new one is given their
 * first contact.
 */
export function DependantForm({
  personId,
  dependant,
  sources,
  close,
}: {
  /** Whose contact they are; left out where it is about the dependant alone. */
  personId?: number;
  dependant: (Omit<DependantRow, 'contact' | 'must_not_receive' | 'others'> & Partial<DependantRow>) | undefined;
  sources: Sources | undefined;
  close: () => void;
}) {
  const make = useAct(dependants.make);
  const change = useAct(dependants.change);
  const put = useAct(dependants.putContact);
  const take = useAct(dependants.takeContact);
  const { work, error: failed } = useWork();
  const [error, setError] = useState<unknown>();
  const [first, setFirst] = useState<PersonRow | null>(null);
  const whose = personId ?? first?.id;
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
      if (dependant) {
        await change({ params: { id: dependant.id }, body });
        if (personId !== undefined) await put({ params: { id: dependant.id, person: personId }, body: guard });
      } else if (whose !== undefined) await make({ params: { id: whose }, body: { dependant: body, guard } });
      else {
        setError(new Error('Choose who is written to about them: without a contact nobody would be.'));
        return;
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
            A child, a boat, an account: someone or something that people are written to about.
          </Words>
          <FormGrid above={12}>
            <FormText control={control} name="given_name" label="Given name" autoFocus />
            <FormText control={control} name="family_name" label="Family name" />
            <FormText control={control} name="reference" label="Own reference" />
            <FormDate control={control} name="born" label="Born" />
            <OwnFields control={control} fields={sources?.fields} about="dependant" />
            {personId === undefined ? (
              !dependant && <PersonPicker label="First contact" value={first} onChange={setFirst} />
            ) : (
              <AsContact control={control} />
            )}
          </FormGrid>
          <Trouble error={error ?? failed} />
        </DialogContent>
        <DialogActions>
          {dependant && personId !== undefined && (
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

/** As which contact, and whether they may hear about them. */
function AsContact({ control }: { control: Control<Static<typeof Whole> & FieldValues> }) {
  return (
    <>
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
            this person must not get what is about them
          </Tick>
        )}
      />
    </>
  );
}
