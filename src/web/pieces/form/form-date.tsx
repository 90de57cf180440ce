import type { ReactNode } from 'react';
import { Controller, type Control, type FieldPath, type FieldValues } from 'react-hook-form';
import { DateField } from './dates';

/** A day in a form, with what is wrong with it beneath it. Apart from `form`, since the pickers weigh more than all other fields. */
export function FormDate<V extends FieldValues>({
  control,
  name,
  label,
  helperText,
}: {
  control: Control<V>;
  name: FieldPath<V>;
  label: string;
  helperText?: ReactNode;
}): ReactNode {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState: { error } }) => (
        <DateField
          label={label}
          value={(field.value as string | undefined) ?? ''}
          onChange={field.onChange}
          error={error !== undefined}
          helperText={error?.message ?? helperText}
        />
      )}
    />
  );
}
