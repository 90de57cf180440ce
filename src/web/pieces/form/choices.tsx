import {
  Checkbox,
  FormControlLabel,
  InputBase,
  MenuItem,
  Radio,
  RadioGroup,
  Select,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  type InputBaseProps,
} from '@mui/material';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { ON_A_PHONE, THUMB } from '../../theme/touch';
import { drawn, notALook, type Looks } from '../looks';

export type Option<T extends string> = readonly [value: T, words: ReactNode];

const Caret = styled('span')(({ theme }) => ({
  position: 'absolute',
  right: 0,
  pointerEvents: 'none',
  color: theme.bell.soft,
  fontSize: '0.8em',
  '&::after': { content: '"▾"' },
}));

const ValueSelect = styled(Select, { shouldForwardProp: notALook })<Looks>((looks) => ({
  font: 'inherit',
  color: looks.theme.bell.ink,
  borderBottom: `1px dotted ${looks.theme.bell.soft}`,
  maxWidth: '100%',
  lineHeight: 'inherit',
  '&:hover': { borderBottomStyle: 'solid' },
  '&&& .MuiSelect-select': {
    padding: '0 15px 1px 0',
    // large enough to be hit (WCAG 2.2, 2.5.8)
    minHeight: 24,
    minWidth: 24,
    lineHeight: '24px',
    background: 'none',
    [ON_A_PHONE]: {
      minHeight: THUMB,
      minWidth: THUMB,
      lineHeight: `${THUMB}px`,
      textDecoration: 'underline dotted',
      textUnderlineOffset: 4,
    },
  },
  [ON_A_PHONE]: { borderBottom: 0 },
  '& .MuiSelect-select:focus-visible': { outline: `2px solid ${looks.theme.bell.lake}`, outlineOffset: 2 },
  '&.Mui-disabled': { borderBottomColor: 'transparent' },
  ...drawn(looks),
})) as unknown as typeof Select;

/** A value chosen from a few: looks like a value (caret, dotted base), opens a menu. */
export function Choose<T extends string>({
  label,
  value,
  options,
  onChange,
  disabled,
  ...looks
}: {
  label: string;
  value: T;
  options: readonly Option<T>[];
  onChange: (value: T) => void;
  disabled?: boolean;
} & Looks): ReactNode {
  return (
    <ValueSelect
      {...looks}
      variant="standard"
      displayEmpty
      disableUnderline
      disabled={disabled}
      value={value}
      onChange={(event) => onChange(event.target.value as T)}
      IconComponent={Caret}
      SelectDisplayProps={{ 'aria-label': label }}
      MenuProps={{ slotProps: { list: { 'aria-label': label } } }}
      renderValue={(chosen: unknown) => options.find(([key]) => key === chosen)?.[1] ?? String(chosen)}
    >
      {options.map(([key, words]) => (
        <MenuItem key={key} value={key}>
          {words}
        </MenuItem>
      ))}
    </ValueSelect>
  );
}

/** The same in a form, with its label and what is wrong with it. */
export function ChooseField<T extends string>({
  label,
  value,
  options,
  onChange,
  helperText,
  error,
  disabled,
}: {
  label: string;
  value: T;
  options: readonly Option<T>[];
  onChange: (value: T) => void;
  helperText?: ReactNode;
  error?: boolean;
  disabled?: boolean;
}): ReactNode {
  return (
    <TextField
      select
      label={label}
      value={value}
      disabled={disabled}
      onChange={(event) => onChange(event.target.value as T)}
      helperText={helperText}
      error={error}
    >
      {options.map(([key, words]) => (
        <MenuItem key={key} value={key}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}

const Dotted = styled(InputBase, { shouldForwardProp: notALook })<Looks>((looks) => ({
  font: 'inherit',
  color: looks.theme.bell.ink,
  borderBottom: `1px dotted ${looks.theme.bell.soft}`,
  '&:hover': { borderBottomStyle: 'solid' },
  '&.Mui-focused': { borderBottom: `1px solid ${looks.theme.bell.lake}` },
  '& input': { padding: '0 0 1px', height: 24, fieldSizing: 'content', minWidth: 24, maxWidth: '100%' },
  [ON_A_PHONE]: {
    borderBottom: 0,
    '& input': { height: THUMB, minWidth: THUMB, textDecoration: 'underline dotted', textUnderlineOffset: 4 },
  },
  "& input[type='number']": { appearance: 'textfield' },
  "& input[type='number']::-webkit-inner-spin-button": { display: 'none' },
  ...drawn(looks),
}));

type Typed = Omit<InputBaseProps, 'inputProps' | 'value' | 'onChange'> &
  Omit<Looks, 'width'> & {
    label: string;
    value: string | number;
    onChange: (value: string) => void;
    input?: React.InputHTMLAttributes<HTMLInputElement>;
  };

/** A value that is typed where it stands: dotted base, as wide as what is in it. */
export function TypedValue({ label, value, onChange, input, ...rest }: Typed): ReactNode {
  return (
    <Dotted
      {...rest}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ input: { ...input, 'aria-label': label } }}
    />
  );
}

/** Yes or no, with its words beside it. */
export function Tick({
  checked,
  onChange,
  children,
  label,
  disabled,
  mixed,
}: {
  checked: boolean;
  onChange: (checked: boolean) => void;
  children?: ReactNode;
  /** Where there are no words beside it. */
  label?: string;
  disabled?: boolean;
  mixed?: boolean;
}): ReactNode {
  const box = (
    <Checkbox
      checked={checked}
      indeterminate={mixed}
      disabled={disabled}
      onChange={(event) => onChange(event.target.checked)}
      slotProps={{ input: { 'aria-label': label } }}
    />
  );
  return children === undefined ? box : <FormControlLabel disabled={disabled} control={box} label={children} />;
}

/** One of a few, each told in a line. */
export function OneOfThese<T extends string>({
  label,
  value,
  options,
  onChange,
  disabled,
}: {
  label: string;
  value: T | undefined;
  options: readonly Option<T>[];
  onChange: (value: T) => void;
  disabled?: boolean;
}): ReactNode {
  return (
    <RadioGroup aria-label={label} value={value ?? ''} onChange={(_event, chosen) => onChange(chosen as T)}>
      {options.map(([key, words]) => (
        <FormControlLabel key={key} value={key} disabled={disabled} control={<Radio />} label={words} />
      ))}
    </RadioGroup>
  );
}

const Views = styled(ToggleButtonGroup)({ gap: 14, flexWrap: 'wrap' });
const Together = styled(ToggleButtonGroup)({ gap: 7, flexWrap: 'wrap' });

/** Several of a few, beside one another; never none. */
export function Several<T extends string | number>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: readonly T[];
  options: readonly (readonly [value: T, words: string, said: string])[];
  onChange: (value: T[]) => void;
}): ReactNode {
  return (
    <Together aria-label={label} value={value} onChange={(_event, chosen: T[]) => chosen.length > 0 && onChange(chosen)}>
      {options.map(([key, words, said]) => (
        <ToggleButton key={key} value={key} aria-label={said}>
          {words}
        </ToggleButton>
      ))}
    </Together>
  );
}

/** Which of a few views of the same is shown. */
export function Shown<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly Option<T>[];
  onChange: (value: T) => void;
}): ReactNode {
  return (
    <Views
      exclusive
      aria-label={label}
      value={value}
      onChange={(_event, chosen: T | null) => {
        if (chosen !== null) onChange(chosen);
      }}
    >
      {options.map(([key, words]) => (
        <ToggleButton key={key} value={key}>
          {words}
        </ToggleButton>
      ))}
    </Views>
  );
}
