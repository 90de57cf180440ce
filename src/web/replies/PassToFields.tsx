import { Controller, useFormContext } from 'react-hook-form';
import type { PassTo } from '../../core/api/desk/passing';
import { FormChoice, FormText } from '../pieces/form/form';
import { Tick } from '../pieces/form/choices';
import { Way } from '../pieces/ways';

/** Who is to answer, and whether it comes to them by text or mail; of the form around it. */
export function PassToFields({ mail }: { /** By mail it can be done. */ mail: boolean }) {
  const { control, watch } = useFormContext<PassTo>();
  const way = watch('way');
  return (
    <>
      <FormText control={control} name="name" label="Who" placeholder="Pier office" />
      <FormChoice
        control={control}
        name="way"
        label="How"
        options={[
          ['text', 'by text'],
          ['mail', 'by mail'],
        ]}
        helperText={
          mail ? undefined : (
            <>
              By mail once a server is set in <Way to="/setup/mail">Setup</Way>.
            </>
          )
        }
      />
      <FormText
        control={control}
        name="address"
        label={way === 'mail' ? 'E-mail address' : 'Number'}
        input={{ inputMode: way === 'mail' ? 'email' : 'tel' }}
      />
    </>
  );
}

/** Whether texts come to them at night, too; nothing to ask of a mail. */
export function AnyHour() {
  const { control, watch } = useFormContext<PassTo>();
  if (watch('way') === 'mail') return undefined;
  return (
    <Controller
      control={control}
      name="any_hour"
      render={({ field }) => (
        <Tick checked={field.value} onChange={field.onChange}>
          At any hour, also in quiet hours: they have asked for it
        </Tick>
      )}
    />
  );
}
