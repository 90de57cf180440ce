import { Autocomplete, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material';
import { useState } from 'react';
import { Controller } from 'react-hook-form';
import { people, PersonBody, type KnownPerson } from '../../../core/api/people/people';
import { useAct } from '../../api/client';
import { useDesk } from '../../api/session';
import { TimeField } from '../../pieces/form/dates';
import { FormChoice, FormText, useContractForm, useSubmit } from '../../pieces/form/form';
import { languageName, zoneName } from '../../pieces/format';
import { FormDate } from '../../pieces/form/form-date';
import { FormGrid } from '../../pieces/layout';
import { useSay } from '../../pieces/Said';
import { Trouble } from '../../pieces/small';
import { OwnFields } from './OwnFields';
import { nameOf, type Sources } from '../sources';
import { askWhoHas, NumberShared, Shared } from './NumberShared';

const ZONES = ['', ...Intl.supportedValuesOf('timeZone')];
const KINDS = [
  ['', 'as the number tells'],
  ['mobile', 'mobile'],
  ['fixed', 'fixed line'],
] as const;

/** Adds or changes a person by hand. */
export function PersonForm({
  person,
  sources,
  close,
}: {
  person?: KnownPerson['person'];
  sources: Sources | undefined;
  close: () => void;
}) {
  const { workspace } = useDesk();
  const say = useSay();
  const make = useAct(people.make);
  const change = useAct(people.change);
  const [error, setError] = useState<unknown>();
  // the number whose sharers were shown: pressed again, it is meant
  const [meant, setMeant] = useState<string>();
  const form = useContractForm(PersonBody, {
    given_name: person?.given_name ?? '',
    family_name: person?.family_name ?? '',
    number: person?.number ?? '',
    reference: person?.reference ?? '',
    language: person?.language ?? '',
    zone: person && !person.zone_guessed ? (person.zone ?? '') : '',
    born: person?.born ?? '',
    quiet: person?.quiet ?? '',
    kind: (person?.kind_source ? (person.number_kind ?? '') : '') as '' | 'mobile' | 'fixed',
    fields: person?.fields ?? {},
  });
  const submit = useSubmit(
    form,
    async (body) => {
      if (body.number !== meant && body.number !== (person?.number ?? '')) {
        const shared = await askWhoHas(body.number, person?.id);
        setMeant(body.number);
        if (shared) throw shared;
      }
      if (person) await change({ params: { id: person.id }, body });
      else await make({ body });
      say(person ? `${nameOf(body)} is changed.` : `${nameOf(body)} is there.`);
      close();
    },
    setError,
  );
  const { control, formState } = form;
  const languages = [...new Set([...workspace.languages, person?.language ?? ''])].filter((code) => code !== '');
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <form noValidate onSubmit={(event) => void submit(event)}>
        <DialogTitle>{person ? 'Change a person' : 'Add a person'}</DialogTitle>
        <DialogContent>
          <FormGrid above={6}>
            <FormText control={control} name="given_name" label="Given name" autoFocus />
            <FormText control={control} name="family_name" label="Family name" />
            <FormText
              control={control}
              name="number"
              label="Text number"
              helperText={
                person ? 'A new number starts without the old one’s consent; planned texts to the old one do not go.' : undefined
              }
            />
            <FormChoice
              control={control}
              name="kind"
              label="Kind of line"
              options={KINDS}
              helperText="Where the number itself does not tell"
            />
            <FormText control={control} name="reference" label="Own reference" />
            <FormChoice
              control={control}
              name="language"
              label="Language"
              options={[['', 'not known'], ...languages.map((code) => [code, languageName(code)] as const)]}
            />
            <Controller
              control={control}
              name="zone"
              render={({ field, fieldState: { error: wrong } }) => (
                <Autocomplete
                  options={ZONES}
                  value={field.value}
                  disableClearable
                  getOptionLabel={(zone) => (zone === '' ? 'guessed from the number' : `${zoneName(zone)} (${zone})`)}
                  onChange={(_event, zone) => field.onChange(zone)}
                  renderInput={(params) => (
                    <TextField {...params} label="Time zone" error={wrong !== undefined} helperText={wrong?.message} />
                  )}
                />
              )}
            />
            <FormDate control={control} name="born" label="Born" helperText="Whoever is under 18 gets no marketing." />
            <Controller
              control={control}
              name="quiet"
              render={({ field }) => <Quiet value={field.value ?? ''} change={field.onChange} />}
            />
            <OwnFields control={control} fields={sources?.fields} about="person" />
          </FormGrid>
          {error instanceof Shared ? <NumberShared shared={error} about={nameOf(form.getValues())} /> : <Trouble error={error} />}
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>Leave it</Button>
          <Button type="submit" variant="contained" disabled={formState.isSubmitting}>
            {`${person ? 'Save' : 'Add'}${error instanceof Shared ? ' all the same' : ''}`}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

/** Do-not-disturb hours: two times, or none. */
function Quiet({ value, change }: { value: string; change: (quiet: string) => void }) {
  const [times, setTimes] = useState<[string, string]>([value.slice(0, 5), value.slice(6)]);
  const set = (next: [string, string]) => {
    setTimes(next);
    change(next[0] !== '' && next[1] !== '' && next[0] !== next[1] ? next.join('-') : '');
  };
  return (
    <>
      <TimeField label="Do not disturb from" value={times[0]} onChange={(from) => set([from, times[1]])} />
      <TimeField label="until, in their time" value={times[1]} onChange={(to) => set([times[0], to])} />
    </>
  );
}
