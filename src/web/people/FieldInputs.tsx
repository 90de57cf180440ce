import { MenuItem, TextField } from '@mui/material';
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
    const common = {
      label: heading(field.label),
      value,
      error: wrong?.slug === field.slug,
      helperText: wrong?.slug === field.slug ? wrong.says : undefined,
      onChange: (event: { target: { value: string } }) => set(event.target.value),
    };
    const choices =
      field.type === 'yes_no' ? ['yes', 'no'] : field.type === 'choice' && field.choices.length > 0 ? field.choices : undefined;
    if (choices)
      return (
        <TextField key={field.slug} select {...common}>
          <MenuItem value="">none</MenuItem>
          {[...new Set([...choices, value])]
            .filter((each) => each !== '')
            .map((each) => (
              <MenuItem key={each} value={each}>
                {each}
              </MenuItem>
            ))}
        </TextField>
      );
    return (
      <TextField
        key={field.slug}
        {...common}
        type={field.type === 'date' ? 'date' : 'text'}
        slotProps={{
          ...(field.type === 'date' ? { inputLabel: { shrink: true } } : {}),
          ...(field.type === 'number' ? { htmlInput: { inputMode: 'decimal' } } : {}),
        }}
      />
    );
  });
}
