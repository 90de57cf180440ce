import { MenuItem, TextField } from '@mui/material';
import { DateField } from '../pieces/dates';
import { heading, type FieldDef } from './sources';

/** An input for each custom field, by its type. */
export function FieldInputs({
  fields,
  values,
  wrong,
  change,
}: {
  fields: readonly FieldDef[];
  values: Record<string, string>;
  wrong: { slug: string; says: string } | undefined;
  change: (values: Record<string, string>) => void;
}) {
  return fields.map((field) => {
    const value = values[field.slug] ?? '';
    const set = (next: string) => change({ ...values, [field.slug]: next });
    const label = heading(field.label);
    const error = wrong?.slug === field.slug;
    const helperText = error ? wrong.says : undefined;
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
