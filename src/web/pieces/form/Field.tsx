import { OutlinedInput, type OutlinedInputProps } from '@mui/material';
import type { ReactNode } from 'react';

/** A field with its name told only to those who hear it: where its place says what it is. */
export function Field({
  label,
  onChange,
  input,
  ...rest
}: Omit<OutlinedInputProps, 'label' | 'onChange' | 'inputProps'> & {
  label: string;
  onChange: (value: string) => void;
  input?: React.InputHTMLAttributes<HTMLInputElement>;
}): ReactNode {
  return (
    <OutlinedInput
      size="small"
      fullWidth
      {...rest}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ input: { ...input, 'aria-label': label } }}
    />
  );
}
