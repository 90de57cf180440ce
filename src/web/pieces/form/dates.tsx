import { styled } from '@mui/material/styles';
import { AdapterLuxon } from '@mui/x-date-pickers/AdapterLuxon';
import { DatePicker } from '@mui/x-date-pickers/DatePicker';
import { LocalizationProvider } from '@mui/x-date-pickers/LocalizationProvider';
import { TimePicker } from '@mui/x-date-pickers/TimePicker';
import { DateTime } from 'luxon';
import type { ReactNode } from 'react';
import { ON_A_PHONE, THUMB } from '../../theme/touch';
import { hoursOfClock } from '../format';

interface Common {
  label: string;
  onChange: (value: string) => void;
  disabled?: boolean;
  error?: boolean;
  helperText?: ReactNode;
  /** As a value within a line, with a dotted base, instead of a field of a form. */
  inLine?: boolean;
}

const Inline = styled('span')(({ theme }) => ({
  display: 'inline-flex',
  verticalAlign: 'baseline',
  '& .MuiPickersInputBase-root, & .MuiInputBase-root': { font: 'inherit', padding: 0 },
  '& .MuiPickersInputBase-sectionsContainer': { padding: '0 0 1px', width: 'auto', minWidth: 0, font: 'inherit' },
  [ON_A_PHONE]: { '& .MuiPickersInputBase-root': { minHeight: THUMB } },
  '& .MuiPickersInput-root::before': { borderBottom: `1px dotted ${theme.bell.soft}` },
  '& .MuiFormControl-root': { width: 'auto' },
  '& .MuiIconButton-root': { padding: 1, marginRight: 0 },
  '& .MuiIconButton-root svg': { fontSize: 17 },
}));

// wall-clock fields only: the zone of the picker's value never counts. UTC has no gap in which a time could turn into another
const dayOf = (value: string) => (value === '' ? null : DateTime.fromISO(value, { zone: 'utc' }));

function Around({ inLine, children }: { inLine: boolean | undefined; children: ReactNode }): ReactNode {
  return (
    <LocalizationProvider dateAdapter={AdapterLuxon} adapterLocale="en-US">
      {inLine ? <Inline>{children}</Inline> : children}
    </LocalizationProvider>
  );
}

/** How a picker's field and its button are drawn, in a form or within a line. */
const drawnAs = ({ label, error, helperText, inLine }: Omit<Common, 'onChange'>) => ({
  textField: {
    size: 'small' as const,
    variant: inLine ? ('standard' as const) : ('outlined' as const),
    fullWidth: !inLine,
    error: error || undefined,
    helperText: inLine ? undefined : helperText,
    ...(inLine ? { 'aria-label': label } : {}),
  },
  // as every other day and time on the screen: Dec 2 and 4:30, not Dec 02 and 04:30
  field: { shouldRespectLeadingZeros: true },
  openPickerButton: { 'aria-label': `Pick: ${label}` },
});

/** A day, typed or picked: `YYYY-MM-DD`, or nothing. A day that does not exist is not told. */
export function DateField({
  label,
  value,
  onChange,
  disabled,
  error,
  helperText,
  inLine,
  least,
  withDay,
}: Common & { value: string; least?: string; withDay?: boolean }): ReactNode {
  return (
    <Around inLine={inLine}>
      <DatePicker
        timezone="UTC"
        desktopModeMediaQuery="@media all"
        value={dayOf(value)}
        minDate={least ? (dayOf(least) ?? undefined) : undefined}
        disabled={disabled}
        format={withDay ? 'ccc, LLL d, yyyy' : 'LLL d, yyyy'}
        label={inLine ? undefined : label}
        onChange={(next) => {
          if (next === null) onChange('');
          else if (next.isValid && next.year > 1800) onChange(next.toISODate() ?? '');
        }}
        slotProps={drawnAs({ label, error, helperText, inLine })}
      />
    </Around>
  );
}

/** A time of day, typed or picked: `HH:MM`, shown in the workspace's custom. */
export function TimeField({
  label,
  value,
  onChange,
  disabled,
  error,
  helperText,
  inLine,
}: Common & { value: string }): ReactNode {
  return (
    <Around inLine={inLine}>
      <TimePicker
        timezone="UTC"
        desktopModeMediaQuery="@media all"
        ampm={hoursOfClock() === '12'}
        format={hoursOfClock() === '12' ? 'h:mm a' : 'HH:mm'}
        timeSteps={{ minutes: 5 }}
        value={value === '' ? null : DateTime.fromISO(`2026-01-01T${value}`, { zone: 'utc' })}
        disabled={disabled}
        label={inLine ? undefined : label}
        onChange={(next) => {
          if (next?.isValid) onChange(next.toFormat('HH:mm'));
        }}
        slotProps={drawnAs({ label, error, helperText, inLine })}
      />
    </Around>
  );
}
