import type { ReactNode } from 'react';
import type { Control, FieldPath, FieldValues } from 'react-hook-form';
import { SHORTEST_PASSWORD } from '../../../core/api/session';
import { FormText } from './form';

/** What a password must be, in words. */
export const PASSWORD_WORDS = `At least ${SHORTEST_PASSWORD} characters; a few words do well.`;

/** The field in which a password is chosen. */
export function NewPassword<V extends FieldValues>({
  control,
  label = 'New password',
  autoFocus,
}: {
  control: Control<V>;
  label?: string;
  autoFocus?: boolean;
}): ReactNode {
  return (
    <FormText
      control={control}
      name={'password' as FieldPath<V>}
      label={label}
      type="password"
      autoComplete="new-password"
      helperText={PASSWORD_WORDS}
      autoFocus={autoFocus}
    />
  );
}
