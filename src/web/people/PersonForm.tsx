import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Refused, send } from '../api/client';
import { useDesk } from '../api/session';
import { Trouble } from '../pieces/small';
import { FieldInputs } from './FieldInputs';
import type { Sources } from './sources';

export interface Editable {
  id?: number;
  given_name: string;
  family_name: string;
  number: string | null;
  number_kind: string | null;
  kind_source: string | null;
  reference: string | null;
  language: string | null;
  zone: string | null;
  zone_guessed: boolean;
  born: string | null;
  quiet: string | null;
  fields: Record<string, string>;
}

const LANGUAGES = new Intl.DisplayNames('en', { type: 'language' });

/** Adds or changes a person by hand. */
export function PersonForm({ person, sources, close }: { person?: Editable; sources: Sources | undefined; close: () => void }) {
  const client = useQueryClient();
  const { workspace } = useDesk();
  const [form, setForm] = useState({
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
  const [error, setError] = useState<unknown>();
  const place = error instanceof Refused ? error.body.place : undefined;
  const save = async () => {
    try {
      await send(person?.id ? 'PUT' : 'POST', person?.id ? `/api/people/${person.id}` : '/api/people', form);
      await client.invalidateQueries();
      close();
    } catch (refused) {
      setError(refused);
    }
  };
  const text = (name: 'given_name' | 'family_name' | 'number' | 'reference' | 'zone' | 'born', label: string, help?: string) => (
    <TextField
      label={label}
      value={form[name]}
      error={place === name}
      helperText={place === name && error instanceof Refused ? error.body.title : help}
      type={name === 'born' ? 'date' : 'text'}
      slotProps={name === 'born' ? { inputLabel: { shrink: true } } : undefined}
      onChange={(event) => setForm({ ...form, [name]: event.target.value })}
    />
  );
  const languages = [...new Set([...workspace.languages, form.language])].filter((code) => code !== '');
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>{person?.id ? 'Change a person' : 'Add a person'}</DialogTitle>
      <DialogContent>
        <div className="form-grid" style={{ paddingTop: 6 }}>
          {text('given_name', 'Given name')}
          {text('family_name', 'Family name')}
          {text(
            'number',
            'Text number',
            person?.id ? 'A new number starts without the old one’s consent; planned texts to the old one do not go.' : undefined,
          )}
          <TextField
            select
            label="Kind of line"
            value={form.kind}
            helperText="Where the number itself does not tell"
            onChange={(event) => setForm({ ...form, kind: event.target.value as '' | 'mobile' | 'fixed' })}
          >
            <MenuItem value="">as the number tells</MenuItem>
            <MenuItem value="mobile">mobile</MenuItem>
            <MenuItem value="fixed">fixed line</MenuItem>
          </TextField>
          {text('reference', 'Own reference')}
          <TextField
            select
            label="Language"
            value={form.language}
            onChange={(event) => setForm({ ...form, language: event.target.value })}
          >
            <MenuItem value="">not known</MenuItem>
            {languages.map((code) => (
              <MenuItem key={code} value={code}>
                {LANGUAGES.of(code) ?? code}
              </MenuItem>
            ))}
          </TextField>
          {text('zone', 'Time zone', 'Such as America/New_York; empty, it is guessed from the number.')}
          {text('born', 'Born', 'Whoever is under 18 gets no marketing.')}
          <Quiet value={form.quiet} change={(quiet) => setForm({ ...form, quiet })} />
          <FieldInputs
            fields={(sources?.fields ?? []).filter((field) => field.about === 'person')}
            values={form.fields}
            wrong={
              place?.startsWith('fields.') && error instanceof Refused
                ? { slug: place.slice(7), says: error.body.title }
                : undefined
            }
            change={(fields) => setForm({ ...form, fields })}
          />
        </div>
        {place === undefined && <Trouble error={error} />}
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

/** Do-not-disturb hours: two times, or none. */
function Quiet({ value, change }: { value: string; change: (quiet: string) => void }) {
  const [times, setTimes] = useState<[string, string]>([value.slice(0, 5), value.slice(6)]);
  const set = (next: [string, string]) => {
    setTimes(next);
    change(next[0] !== '' && next[1] !== '' && next[0] !== next[1] ? next.join('-') : '');
  };
  const input = (at: 0 | 1, label: string) => (
    <TextField
      label={label}
      type="time"
      value={times[at]}
      slotProps={{ inputLabel: { shrink: true } }}
      onChange={(event) => set(at === 0 ? [event.target.value, times[1]] : [times[0], event.target.value])}
    />
  );
  return (
    <>
      {input(0, 'Do not disturb from')}
      {input(1, 'until, in their time')}
    </>
  );
}
