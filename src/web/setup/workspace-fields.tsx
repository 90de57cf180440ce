import { OFFERED_LANGUAGES } from '../../core/text/language';
import { Autocomplete, TextField } from '@mui/material';
import { Controller, useWatch, type UseFormReturn } from 'react-hook-form';
import type { WorkspaceBody } from '../../core/api/setup';
import { TimeField } from '../pieces/form/dates';
import { FormChoice, FormText } from '../pieces/form/form';
import { countryName, languageName, zoneName } from '../pieces/format';
import { FormGrid, Words } from '../pieces/layout';
import { COUNTRY_CODES } from '../pieces/form/countries';

type WorkspaceForm = UseFormReturn<WorkspaceBody>;
interface Of {
  form: WorkspaceForm;
  disabled?: boolean;
}

const ZONES = Intl.supportedValuesOf('timeZone');
const CURRENCIES = Intl.supportedValuesOf('currency');

/** Opt-out wording to start with, by language; every one of them can be changed. */
export const OPT_OUT: Record<string, string> = {
  en: 'STOP to opt out',
  fr: 'STOP pour ne plus recevoir',
  es: 'STOP para no recibir',
  de: 'STOP zum Abmelden',
  it: 'STOP per non ricevere',
  pt: 'STOP para sair',
  nl: 'STOP om te stoppen',
};

/** What the organization is called and where it is: decides how numbers are read, when nights are, and what money it is. */
export function PlaceFields({ form, disabled, fixedMoney }: Of & { fixedMoney: boolean }) {
  const { control } = form;
  const why = 'Texts have been sent and paid in it: it stays.';
  return (
    <FormGrid>
      <FormText
        control={control}
        name="name"
        label="Name"
        disabled={disabled}
        helperText="As people know you; texts can be signed with it."
      />
      <Controller
        control={control}
        name="zone"
        render={({ field, fieldState: { error } }) => (
          <Autocomplete
            options={ZONES.includes(field.value) ? ZONES : [field.value, ...ZONES]}
            value={field.value}
            disabled={disabled}
            disableClearable
            getOptionLabel={(zone) => `${zoneName(zone)} (${zone})`}
            onChange={(_event, zone) => field.onChange(zone)}
            renderInput={(params) => (
              <TextField
                {...params}
                label="Time zone"
                error={error !== undefined}
                helperText={error?.message ?? 'When it is day and night at your place.'}
              />
            )}
          />
        )}
      />
      <Controller
        control={control}
        name="country"
        render={({ field, fieldState: { error } }) => (
          <Autocomplete
            options={COUNTRY_CODES}
            value={field.value}
            disabled={disabled || fixedMoney}
            disableClearable
            getOptionLabel={(code) => countryName(code)}
            onChange={(_event, code) => field.onChange(code)}
            renderInput={(params) => (
              <TextField
                {...params}
                label="Country"
                error={error !== undefined}
                helperText={
                  error?.message ?? (fixedMoney ? why : 'Numbers written without a country code are read as from here.')
                }
              />
            )}
          />
        )}
      />
      <Controller
        control={control}
        name="currency"
        render={({ field, fieldState: { error } }) => (
          <Autocomplete
            options={CURRENCIES}
            value={field.value}
            disabled={disabled || fixedMoney}
            disableClearable
            onChange={(_event, code) => field.onChange(code)}
            renderInput={(params) => (
              <TextField
                {...params}
                label="Currency"
                error={error !== undefined}
                helperText={error?.message ?? (fixedMoney ? why : 'In which texts are paid.')}
              />
            )}
          />
        )}
      />
      <Controller
        control={control}
        name="languages"
        render={({ field, fieldState: { error } }) => (
          <Autocomplete
            multiple
            options={[...OFFERED_LANGUAGES]}
            value={[...field.value]}
            disabled={disabled}
            getOptionLabel={languageName}
            onChange={(_event, codes) => field.onChange(codes)}
            renderInput={(params) => (
              <TextField
                {...params}
                label="Languages"
                error={error !== undefined}
                helperText={error ? 'At least one.' : 'In which you write; the first is for those who have told none.'}
              />
            )}
          />
        )}
      />
      <FormChoice
        control={control}
        name="hours"
        label="Times are written"
        disabled={disabled}
        options={[
          ['12', '4:30 PM'],
          ['24', '16:30'],
        ]}
      />
    </FormGrid>
  );
}

/** Hours in which nothing goes, in each recipient's own time. */
export function QuietFields({ form, disabled }: Of) {
  return (
    <>
      <Words as="p" soft small>
        In each recipient’s own time nothing goes from the one to the other. To start with: 9 PM to 8 AM, as the federal rules of
        the United States have it for marketing (47 CFR 64.1200(c)(1)); your place may ask for more.
      </Words>
      <FormGrid>
        {(['quiet_from', 'quiet_to'] as const).map((name) => (
          <Controller
            key={name}
            control={form.control}
            name={name}
            render={({ field, fieldState: { error } }) => (
              <TimeField
                label={name === 'quiet_from' ? 'Quiet from' : 'until'}
                value={field.value}
                onChange={field.onChange}
                disabled={disabled}
                error={error !== undefined}
                helperText={error?.message}
              />
            )}
          />
        ))}
      </FormGrid>
    </>
  );
}

/** How people are told to stop, in each language. */
export function OptOutFields({ form, disabled }: Of) {
  const languages = useWatch({ control: form.control, name: 'languages' });
  return (
    <FormGrid>
      {languages.map((language) => (
        <FormText
          key={language}
          control={form.control}
          name={`opt_out_wording.${language}`}
          label={`Opt-out wording, ${languageName(language)}`}
          disabled={disabled}
          input={{ maxLength: 120 }}
          placeholder={OPT_OUT[language]}
        />
      ))}
      {languages.map((language) => (
        <FormText
          key={`link ${language}`}
          control={form.control}
          name={`opt_out_link_wording.${language}`}
          label={`Before an opt-out link, ${languageName(language)}`}
          disabled={disabled}
          input={{ maxLength: 120 }}
        />
      ))}
    </FormGrid>
  );
}

const NOTICES = [
  ['unless_withdrawn', 'everyone who has not withdrawn'],
  ['granted', 'those who have agreed only'],
] as const;

/** The answer to HELP in each language, and the emergency line. */
export function TextFields({ form, disabled }: Of) {
  const { control } = form;
  const [first, ...others] = useWatch({ control, name: 'languages' });
  return (
    <FormGrid>
      <FormText
        control={control}
        name="help_wording"
        label={others.length === 0 || first === undefined ? 'Answer to HELP' : `Answer to HELP, ${languageName(first)}`}
        disabled={disabled}
        multiline
        helperText="Who this is and how to stop; sent to whoever texts HELP."
      />
      {others.map((language) => (
        <FormText
          key={language}
          control={control}
          name={`help_wordings.${language}`}
          label={`Answer to HELP, ${languageName(language)}`}
          disabled={disabled}
          multiline
          helperText="Left empty, they read the first."
        />
      ))}
      <FormText
        control={control}
        name="emergency_line"
        label="Emergency line, if any"
        disabled={disabled}
        helperText="Named in that answer."
      />
    </FormGrid>
  );
}

/** Whom notices go to, and how late a start may be. */
export function RuleFields({ form: { control }, disabled }: Of) {
  return (
    <FormGrid>
      <FormChoice
        control={control}
        name="notices"
        label="Service notices go to"
        disabled={disabled}
        options={NOTICES}
        helperText="Marketing goes only to those who have agreed to it."
      />
      <FormText
        control={control}
        name="late_limit_minutes"
        label="Latest start, minutes"
        disabled={disabled}
        read={(typed) => (/^\d+$/.test(typed.trim()) ? Number(typed) : typed)}
        input={{ inputMode: 'numeric' }}
        helperText="What could not start so long after its time is not sent, and asks."
      />
    </FormGrid>
  );
}
