import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { send } from '../api/client';
import { Trouble } from '../pieces/small';
import type { Sources } from './People';

export interface Editable {
  id?: number;
  given_name: string;
  family_name: string;
  number: string | null;
  reference: string | null;
  language: string | null;
  zone: string | null;
  zone_guessed: boolean;
  fields: Record<string, string>;
}

/** Adds or changes a person by hand. */
export function PersonForm({ person, sources, close }: { person?: Editable; sources: Sources | undefined; close: () => void }) {
  const client = useQueryClient();
  const [form, setForm] = useState({
    given_name: person?.given_name ?? '',
    family_name: person?.family_name ?? '',
    number: person?.number ?? '',
    reference: person?.reference ?? '',
    language: person?.language ?? '',
    zone: person && !person.zone_guessed ? (person.zone ?? '') : '',
    fields: person?.fields ?? {},
  });
  const [error, setError] = useState<unknown>();
  const save = async () => {
    try {
      await send(person?.id ? 'PUT' : 'POST', person?.id ? `/api/people/${person.id}` : '/api/people', form);
      await client.invalidateQueries();
      close();
    } catch (refused) {
      setError(refused);
    }
  };
  const text = (
    name: 'given_name' | 'family_name' | 'number' | 'reference' | 'language' | 'zone',
    label: string,
    help?: string,
  ) => (
    <TextField
      label={label}
      value={form[name]}
      helperText={help}
      onChange={(event) => setForm({ ...form, [name]: event.target.value })}
    />
  );
  return (
    <Dialog open onClose={close} fullWidth maxWidth="xs">
      <DialogTitle>{person?.id ? 'Change a person' : 'Add a person'}</DialogTitle>
      <DialogContent>
        <div className="stack" style={{ gap: 12, paddingTop: 6 }}>
          {text('given_name', 'Given name')}
          {text('family_name', 'Family name')}
          {text(
            'number',
            'Text number',
            person?.id
              ? 'A new number starts without the old one’s consent, and planned texts to the old one do not go.'
              : undefined,
          )}
          {text('reference', 'Own reference')}
          {text('language', 'Language (en, fr, es)')}
          {text('zone', 'Time zone', 'Left empty, it is guessed from the number.')}
          {(sources?.fields ?? []).map((field) => (
            <TextField
              key={field.slug}
              label={field.label}
              value={form.fields[field.slug] ?? ''}
              onChange={(event) => setForm({ ...form, fields: { ...form.fields, [field.slug]: event.target.value } })}
            />
          ))}
          <Trouble error={error} />
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Leave it</Button>
        <Button variant="contained" onClick={() => void save()}>
          {person?.id ? 'Save' : 'Add'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
