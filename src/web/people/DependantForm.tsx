import {
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  MenuItem,
  TextField,
} from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Refused, send } from '../api/client';
import { Trouble } from '../pieces/small';
import { FieldInputs } from './FieldInputs';
import type { Sources } from './sources';

export interface DependantRow {
  id: number;
  given_name: string;
  family_name: string;
  reference: string | null;
  born: string | null;
  fields: Record<string, string>;
  contact: number;
  must_not_receive: boolean;
  others: { id: number; name: string; contact: number }[] | null;
}

export const CONTACT_WORDS: Record<number, string> = { 1: 'first contact', 2: 'second contact', 3: 'third contact' };

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
  const client = useQueryClient();
  const [form, setForm] = useState({
    given_name: dependant?.given_name ?? '',
    family_name: dependant?.family_name ?? '',
    reference: dependant?.reference ?? '',
    born: dependant?.born ?? '',
    fields: dependant?.fields ?? {},
  });
  const [guard, setGuard] = useState({
    contact: dependant?.contact ?? 1,
    must_not_receive: dependant?.must_not_receive ?? false,
  });
  const [error, setError] = useState<unknown>();
  const place = error instanceof Refused ? error.body.place : undefined;
  const attempt = async (work: () => Promise<unknown>) => {
    try {
      await work();
      await client.invalidateQueries();
      close();
    } catch (refused) {
      setError(refused);
    }
  };
  const save = () =>
    attempt(async () => {
      if (!dependant) return send('POST', `/api/people/${personId}/dependants`, { dependant: form, guard });
      await send('PUT', `/api/dependants/${dependant.id}`, form);
      return send('PUT', `/api/dependants/${dependant.id}/contacts/${personId}`, guard);
    });
  const text = (name: 'given_name' | 'family_name' | 'reference' | 'born', label: string) => (
    <TextField
      label={label}
      value={form[name]}
      error={place === name}
      helperText={place === name && error instanceof Refused ? error.body.title : undefined}
      type={name === 'born' ? 'date' : 'text'}
      slotProps={name === 'born' ? { inputLabel: { shrink: true } } : undefined}
      onChange={(event) => setForm({ ...form, [name]: event.target.value })}
    />
  );
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>{dependant ? 'Change a dependant' : 'Add a dependant'}</DialogTitle>
      <DialogContent>
        <p className="soft small">A child, a boat, an account: someone or something this person is written to about.</p>
        <div className="form-grid" style={{ paddingTop: 12 }}>
          {text('given_name', 'Given name')}
          {text('family_name', 'Family name')}
          {text('reference', 'Own reference')}
          {text('born', 'Born')}
          <FieldInputs
            fields={(sources?.fields ?? []).filter((field) => field.about === 'dependant')}
            values={form.fields}
            wrong={
              place?.startsWith('fields.') && error instanceof Refused
                ? { slug: place.slice(7), says: error.body.title }
                : undefined
            }
            change={(fields) => setForm({ ...form, fields })}
          />
          <TextField
            select
            label="This person is the"
            value={guard.contact}
            onChange={(event) => setGuard({ ...guard, contact: Number(event.target.value) })}
          >
            {[1, 2, 3].map((contact) => (
              <MenuItem key={contact} value={contact}>
                {CONTACT_WORDS[contact]}
              </MenuItem>
            ))}
          </TextField>
          <FormControlLabel
            control={
              <Checkbox
                checked={guard.must_not_receive}
                onChange={(_, must_not_receive) => setGuard({ ...guard, must_not_receive })}
              />
            }
            label="must not receive what is about them"
          />
        </div>
        {place === undefined && <Trouble error={error} />}
      </DialogContent>
      <DialogActions>
        {dependant && (
          <Button onClick={() => void attempt(() => send('DELETE', `/api/dependants/${dependant.id}/contacts/${personId}`))}>
            No longer a contact
          </Button>
        )}
        <Button onClick={close}>Leave it</Button>
        <Button variant="contained" onClick={() => void save()}>
          {dependant ? 'Save' : 'Add'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
