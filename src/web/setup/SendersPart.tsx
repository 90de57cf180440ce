import { Button } from '@mui/material';
import { useEffect, useState } from 'react';
import { useWatch } from 'react-hook-form';
import { SenderBody, setup, type SetupAnswer } from '../../core/api/setup';
import { useAct } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { DataTable, type Column } from '../pieces/DataTable';
import { FormChoice, FormText, useContractForm, useSubmit } from '../pieces/form';
import { Bit, Form, FormGrid, Row, Words } from '../pieces/layout';
import { RemoveButton } from '../pieces/RemoveButton';
import { useSay } from '../pieces/Said';
import { Nothing, Trouble } from '../pieces/small';

type Sender = SetupAnswer['senders'][number];
const KINDS = [
  ['long', 'long number'],
  ['short', 'short code'],
  ['name', 'name, no replies'],
] as const;
/** A number reserved for fiction (NANP, 555-0100 to 0199), for trying things out with the practice carrier. */
export const PRACTICE_NUMBER = '+12075550100';

/** Numbers and names that texts come from. */
export default function SendersPart({ data, manage }: { data: SetupAnswer; manage: boolean }) {
  const say = useSay();
  const remove = useAct(setup.removeSender);
  const { work, busy, error } = useWork();
  const columns: Column<Sender>[] = [
    { key: 'name', heading: 'Name', cell: (each) => each.name },
    { key: 'kind', heading: 'Kind', cell: (each) => KINDS.find(([key]) => key === each.kind)?.[1] },
    { key: 'address', heading: 'Address', cell: (each) => each.address },
    { key: 'pace', heading: 'Parts a second', num: true, cell: (each) => each.parts_per_second },
    {
      key: 'acts',
      heading: '',
      said: 'Remove',
      num: true,
      cell: (each) =>
        manage &&
        !each.used && (
          <RemoveButton
            name={each.name}
            why="Remove; nothing has ever come from it"
            disabled={busy}
            onClick={() => void work(() => remove({ params: { id: each.id } }).then(() => say(`${each.name} is removed.`)))}
          />
        ),
    },
  ];
  return (
    <>
      <h2>Senders</h2>
      <DataTable
        label="Senders"
        columns={columns}
        rows={data.senders}
        idOf={(each) => each.id}
        empty={
          <Nothing title="No sender yet">
            A long number and a short code take replies; a name cannot, and is not known in every country.
          </Nothing>
        }
      />
      <Trouble error={error} />
      {manage && <SenderForm practice={data.carrier.practice && data.senders.length === 0} />}
    </>
  );
}

/** A new sender. */
export function SenderForm({ practice, added }: { practice: boolean; added?: () => void }) {
  const { session } = useDesk();
  const say = useSay();
  const add = useAct(setup.addSender);
  const [error, setError] = useState<unknown>();
  const offered = practice && session.name !== 'Our workspace' ? session.name.slice(0, 40) : '';
  const form = useContractForm(SenderBody, {
    name: offered,
    kind: 'long' as const,
    address: practice ? PRACTICE_NUMBER : '',
    parts_per_second: 1,
  });
  const {
    reset,
    formState: { isDirty },
  } = form;
  useEffect(() => {
    // the workspace has just been given its name; what somebody has typed already stays
    if (!isDirty) reset((now) => ({ ...now, name: offered }));
  }, [offered, isDirty, reset]);
  const kind = useWatch({ control: form.control, name: 'kind' });
  const submit = useSubmit(
    form,
    async (body) => {
      await add({ body });
      say(`${body.name} is there.`);
      form.reset({ name: '', kind: body.kind, address: '', parts_per_second: 1 });
      added?.();
    },
    setError,
  );
  const { control } = form;
  return (
    <Form noValidate gap={12} onSubmit={(event) => void submit(event)}>
      <Words as="h3" above={16}>
        Another sender
      </Words>
      {practice && (
        <Bit soft small>
          The practice number is made up: with the practice carrier nothing leaves, and answers come from the practice phones.
        </Bit>
      )}
      <FormGrid>
        <FormText
          control={control}
          name="name"
          label="Name of the sender"
          helperText="For you, and for {sender_name} in texts."
        />
        <FormChoice control={control} name="kind" label="Kind of sender" options={KINDS} />
        <FormText
          control={control}
          name="address"
          label="Address of the sender"
          placeholder={kind === 'long' ? '+1…' : kind === 'short' ? '72345' : 'up to 11 characters'}
        />
        <FormText
          control={control}
          name="parts_per_second"
          label="Parts a second"
          read={(typed) => (/^\d+$/.test(typed.trim()) ? Number(typed) : typed)}
          input={{ inputMode: 'numeric' }}
          helperText="As your carrier allows; a long number in North America usually one (common practice)."
        />
      </FormGrid>
      <Trouble error={error} />
      <Row>
        <Button type="submit" variant="contained" disabled={form.formState.isSubmitting}>
          Add a sender
        </Button>
      </Row>
    </Form>
  );
}
