import { MenuItem, TextField } from '@mui/material';
import { useController, type Control, type FieldPath, type FieldValues } from 'react-hook-form';
import { DateField } from '../../pieces/form/dates';
import { heading, type FieldDef } from '../sources';

/** An input for each custom field of a form, by its type; what the server says is wrong stands at its own. */
export function OwnFields<V extends FieldValues>({
  control,
  fields,
  about,
}: {
  control: Control<V>;
  fields: readonly FieldDef[] | undefined;
  about: FieldDef['about'];
}) {
  const { field: all, fieldState } = useController({ control, name: 'fields' as FieldPath<V> });
  const values = all.value as Record<string, string>;
  const wrong = (fieldState.error ?? {}) as Record<string, { message?: string } | undefined>;
  return fields
    ?.filter((field) => field.about === about)
    .map((field) => {
      const value = values[field.slug] ?? '';
      const set = (next: string) => all.onChange({ ...values, [field.slug]: next });
      const label = heading(field.label);
      const helperText = wrong[field.slug]?.message;
      const error = helperText !== undefined;
      const choices =
        field.type === 'yes_no' ? ['yes', 'no'] : field.type === 'choice' && field.choices.length > 0 ? field.choices : undefined;
      if (field.type === 'date' && (value === '' || /^\d{4}-\d{2}-\d{2}$/.test(value)))
        return <DateField key={field.slug} label={label} value={value} onChange={set} error={error} helperText={helperText} />;
      return (
        <TextField
          key={field.slug}
          select={choices !== undefined}
          label={label}
          value={value}
          error={error}
          helperText={helperText}
          onChange={(event) => set(event.target.value)}
          slotProps={field.type === 'number' ? { htmlInput: { inputMode: 'decimal' } } : undefined}
        >
          {choices && [
            <MenuItem key="" value="">
              none
            </MenuItem>,
            ...[...new Set([...choices, value])]
              .filter((each) => each !== '')
              .map((each) => (
                <MenuItem key={each} value={each}>
                  {each}
                </MenuItem>
              )),
          ]}
        </TextField>
      );
    });
}
