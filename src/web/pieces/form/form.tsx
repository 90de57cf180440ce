import { MenuItem, TextField, type TextFieldProps } from '@mui/material';
import { useCallback } from 'react';
import {
  Controller,
  useForm,
  type Control,
  type DefaultValues,
  type FieldErrors,
  type FieldPath,
  type FieldValues,
  type Resolver,
  type UseFormReturn,
} from 'react-hook-form';
import type { Static, TSchema } from 'typebox';
import { Errors } from 'typebox/value';
import { notFitting } from '../../../core/api/not-fitting';
import { Refused } from '../../api/client';
import type { Option } from './choices';
import { useUnsaved } from './unsaved';

/**
 * Validates a form by a schema of the contract; each error stands at its field. `words` says it better for one of them. Ajv, by which the
 * server reads, writes functions out of text, and a strict page allows none (CSP Level 3, `unsafe-eval`): here typebox reads, and
 * http/alike.test holds both alike.
 */
export function bySchema<S extends TSchema>(
  schema: S,
  words: Partial<Record<string, string>> = {},
): Resolver<Static<S> & FieldValues> {
  return (values) => {
    const errors: Record<string, { type: string; message: string }> = {};
    for (const error of Errors(schema, values)) {
      const [first] = error.instancePath.slice(1).split('/');
      const missing =
        error.keyword === 'required' ? (error.params as { requiredProperties?: string[] }).requiredProperties : undefined;
      for (const name of missing ?? [first]) {
        if (name === '' || name in errors) continue;
        errors[name] = { type: error.keyword, message: words[name] ?? notFitting(error, values[name]) };
      }
    }
    return Object.keys(errors).length > 0
      ? { values: {}, errors: errors as FieldErrors<Static<S> & FieldValues> }
      : { values, errors: {} };
  };
}

/** A form of a body of the contract. What is typed is not lost silently: leaving asks. */
export function useContractForm<S extends TSchema>(
  schema: S,
  start: Static<S>,
  options: { words?: Partial<Record<string, string>>; guards?: boolean } = {},
): UseFormReturn<Static<S> & FieldValues> {
  const form = useForm<Static<S> & FieldValues>({
    defaultValues: start as DefaultValues<Static<S> & FieldValues>,
    resolver: bySchema(schema, options.words),
    mode: 'onTouched',
  });
  useUnsaved((options.guards ?? true) && form.formState.isDirty && !form.formState.isSubmitting);
  return form;
}

/**
 * Submits: what the server refuses with a place stands at that field, everything else is thrown on to whoever shows it.
 * Answers whether it was done.
 */
export function useSubmit<V extends FieldValues>(
  form: UseFormReturn<V>,
  act: (values: V) => Promise<unknown>,
  failed: (error: unknown) => void,
): (event?: React.BaseSyntheticEvent) => Promise<void> {
  const { handleSubmit, setError, reset, getValues } = form;
  return useCallback(
    (event) =>
      handleSubmit(async (values) => {
        failed(undefined);
        try {
          await act(values);
          reset(getValues()); // what is saved is not unsaved any more
        } catch (error) {
          const place = error instanceof Refused ? error.body.place : undefined;
          if (place !== undefined && place.split('.')[0] in values && error instanceof Refused)
            setError(place as FieldPath<V>, { type: 'server', message: error.body.title }, { shouldFocus: true });
          else failed(error);
        }
      })(event),
    [handleSubmit, act, failed, reset, getValues, setError],
  );
}

type Text<V extends FieldValues> = Omit<TextFieldProps, 'name' | 'value' | 'onChange' | 'error' | 'defaultValue'> & {
  control: Control<V>;
  name: FieldPath<V>;
  label: string;
  /** Values of the field from what is typed: for numbers. */
  read?: (typed: string) => unknown;
  input?: React.InputHTMLAttributes<HTMLInputElement>;
};

/** A field of a form, with what is wrong with it beneath it. */
export function FormText<V extends FieldValues>({ control, name, read, helperText, input, ...rest }: Text<V>) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field: { ref, value, ...field }, fieldState: { error } }) => (
        <TextField
          {...rest}
          {...field}
          inputRef={ref}
          value={(value as unknown) ?? ''}
          onChange={(event) => field.onChange(read ? read(event.target.value) : event.target.value)}
          error={error !== undefined}
          helperText={error?.message ?? helperText}
          slotProps={{ ...rest.slotProps, htmlInput: input }}
        />
      )}
    />
  );
}

/** A choice in a form. */
export function FormChoice<V extends FieldValues, T extends string>({
  control,
  name,
  label,
  options,
  helperText,
  disabled,
}: {
  control: Control<V>;
  name: FieldPath<V>;
  label: string;
  options: readonly Option<T>[];
  helperText?: React.ReactNode;
  disabled?: boolean;
}) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field: { ref, ...field }, fieldState: { error } }) => (
        <TextField
          {...field}
          select
          label={label}
          inputRef={ref}
          disabled={disabled}
          error={error !== undefined}
          helperText={error?.message ?? helperText}
        >
          {options.map(([key, words]) => (
            <MenuItem key={key} value={key}>
              {words}
            </MenuItem>
          ))}
        </TextField>
      )}
    />
  );
}
