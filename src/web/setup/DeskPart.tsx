import { Button } from '@mui/material';
import { useState } from 'react';
import { Controller, useWatch, type Control } from 'react-hook-form';
import { Type, type Static } from 'typebox';
import type { Answer } from '../../core/api/endpoint';
import { desk, DeskBody } from '../../core/api/desk/desk';
import { Shape } from '../../core/api/shapes';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { Several, Tick } from '../pieces/form/choices';
import { TimeField } from '../pieces/form/dates';
import { FormChoice, FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { languageName } from '../pieces/format';
import { Form, FormGrid, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble, Waiting } from '../pieces/small';

const { away_on, days, from_time, to_time, away_wording, duty_any_hour } = DeskBody.properties;
const Fields = Shape({ away_on, days, from_time, to_time, away_wording, duty_any_hour, duty: Type.String() });
const DAYS = [
  [1, 'Mon', 'Monday'],
  [2, 'Tue', 'Tuesday'],
  [3, 'Wed', 'Wednesday'],
  [4, 'Thu', 'Thursday'],
  [5, 'Fri', 'Friday'],
  [6, 'Sat', 'Saturday'],
  [7, 'Sun', 'Sunday'],
] as const;

/** When somebody is at the desk, what answers at other times, and who is told when something goes wrong. */
export default function DeskPart({ manage }: { manage: boolean }) {
  const answer = useGet(desk.get, {}, { keep: true });
  if (!answer.data) return answer.error ? <Trouble error={answer.error} /> : <Waiting what="Opening…" />;
  return <DeskForm set={answer.data} manage={manage} />;
}

type DeskControl = Control<Static<typeof Fields>>;

function DeskForm({ set, manage }: { set: Answer<typeof desk.get>; manage: boolean }) {
  const { languages } = useDesk().workspace;
  const say = useSay();
  const save = useAct(desk.change);
  const [error, setError] = useState<unknown>();
  const { accounts, duty_account_id, ...kept } = set;
  const form = useContractForm(Fields, {
    ...kept,
    // a language without words is one with none, not one that is missing
    away_wording: { ...Object.fromEntries(languages.map((language) => [language, ''])), ...kept.away_wording },
    duty: duty_account_id === null ? '' : String(duty_account_id),
  });
  const { control } = form;
  const on = useWatch({ control, name: 'away_on' });
  const submit = useSubmit(
    form,
    async ({ duty, ...body }) => {
      await save({ body: { ...body, duty_account_id: duty === '' ? null : Number(duty) } });
      say('The hours of the desk are saved.');
    },
    setError,
  );
  const disabled = !manage;
  return (
    <Form noValidate gap={14} onSubmit={(event) => void submit(event)}>
      <h2>When nobody is here</h2>
      <Controller
        control={control}
        name="away_on"
        render={({ field }) => (
          <Tick checked={field.value === true} disabled={disabled} onChange={field.onChange}>
            Answer whoever writes when nobody is at the desk, once a day
          </Tick>
        )}
      />
      <AwayWords on={on} control={control} disabled={disabled} languages={languages} />
      <Words as="h2" line above={10} pad="14px 0 0">
        On duty
      </Words>
      <Words soft small>
        When a broadcast goes wrong (more failures than usual, no receipts, a code that fails for everyone, answers that it is
        wrong) it stands on Today, and whoever is on duty gets one text about it.
      </Words>
      <FormChoice
        control={control}
        name="duty"
        label="Who is on duty"
        disabled={disabled}
        options={[
          ['', 'nobody: only Today says it'],
          ...accounts.map(
            ({ id, name, number }) => [String(id), number ? name : `${name} (no number of their own yet)`] as const,
          ),
        ]}
      />
      <Controller
        control={control}
        name="duty_any_hour"
        render={({ field }) => (
          <Tick checked={field.value === true} disabled={disabled} onChange={field.onChange}>
            At any hour, also in quiet hours
          </Tick>
        )}
      />
      <Trouble error={error} />
      {manage && (
        <Row>
          <Button type="submit" variant="contained" disabled={!form.formState.isDirty || form.formState.isSubmitting}>
            Save
          </Button>
          {form.formState.isDirty && <Button onClick={() => form.reset()}>As it was</Button>}
        </Row>
      )}
    </Form>
  );
}

/** When the desk is there, and what it says when not. */
function AwayWords({
  on,
  control,
  disabled,
  languages,
}: {
  on: boolean;
  control: DeskControl;
  disabled: boolean;
  languages: readonly string[];
}) {
  return (
    <>
      {on && (
        <>
          <Row>
            <span>Somebody is at the desk on</span>
            <Controller
              control={control}
              name="days"
              render={({ field }) => (
                <Several
                  label="Days of the desk"
                  value={field.value as number[]}
                  options={DAYS}
                  onChange={(next) => field.onChange([...next].sort())}
                />
              )}
            />
          </Row>
          <FormGrid>
            {(['from_time', 'to_time'] as const).map((name) => (
              <Controller
                key={name}
                control={control}
                name={name}
                render={({ field, fieldState: { error: wrong } }) => (
                  <TimeField
                    label={name === 'from_time' ? 'From' : 'until'}
                    value={field.value as string}
                    onChange={field.onChange}
                    disabled={disabled}
                    error={wrong !== undefined}
                    helperText={wrong?.message}
                  />
                )}
              />
            ))}
            {languages.map((language) => (
              <FormText
                key={language}
                control={control}
                name={`away_wording.${language}`}
                label={`What answers them, ${languageName(language)}`}
                multiline
                disabled={disabled}
                input={{ maxLength: 320 }}
                placeholder="We read this from 8 AM. For today’s sailings see the landing."
              />
            ))}
          </FormGrid>
          <Words soft small>
            Nothing answers what a phone writes by itself, a stop, or whoever has opted out. What they wrote waits in Replies.
          </Words>
        </>
      )}
    </>
  );
}
