import { showPhone } from '../pieces/phone';
import { Button } from '@mui/material';
import { useEffect, useState } from 'react';
import { useWatch, type UseFormReturn } from 'react-hook-form';
import { SenderBody, setup, type SetupAnswer } from '../../core/api/setup';
import { useAct } from '../api/client';
import { useWork } from '../api/work';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { FormChoice, FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { Bit, Form, FormGrid, Row, Words } from '../pieces/layout';
import { RemoveButton } from '../pieces/table/RemoveButton';
import { useSay } from '../pieces/Said';
import { Sides } from '../pieces/Sides';
import { Nothing, Trouble } from '../pieces/small';
import { Way } from '../pieces/ways';

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
  const remove = useAct(setup.removeSender, { shown: true });
  const { work, busy, error } = useWork();
  const [changing, setChanging] = useState<Sender>();
  const columns: Column<Sender>[] = [
    { key: 'name', heading: 'Name', cell: (each) => each.name },
    { key: 'kind', folds: true, heading: 'Kind', cell: (each) => KINDS.find(([key]) => key === each.kind)?.[1] },
    { key: 'address', heading: 'Address', nobreak: true, cell: (each) => showPhone(each.address) },
    {
      key: 'replies',
      folds: true,
      heading: 'Replies are read',
      cell: (each) =>
        each.kind === 'name' ? <Bit soft>never</Bit> : each.reply_days === null ? 'always' : readFor(each.reply_days),
    },
    { key: 'pace', folds: true, heading: 'Parts a second', num: true, cell: (each) => each.parts_per_second },
    {
      key: 'acts',
      folds: true,
      heading: '',
      said: 'Change or remove',
      num: true,
      cell: (each) =>
        manage && (
          <Row gap={8} nowrap>
            <Way small aria-label={`Change ${each.name}`} onClick={() => setChanging(each)}>
              change
            </Way>
            {!each.used && (
              <RemoveButton
                name={each.name}
                why="Remove; nothing has ever come from it"
                disabled={busy}
                onClick={() => void work(() => remove({ params: { id: each.id } }).then(() => say(`${each.name} is removed.`)))}
              />
            )}
          </Row>
        ),
    },
  ];
  return (
    <Sides
      beside={
        manage &&
        (changing ? (
          <SenderChange key={changing.id} sender={changing} done={() => setChanging(undefined)} />
        ) : (
          <SenderForm first={firstSender(data)} />
        ))
      }
    >
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
    </Sides>
  );
}

const readFor = (days: number) => (days === 1 ? 'for a day' : `for ${days} days`);
const wholeNumber = (typed: string) => (/^\d+$/.test(typed.trim()) ? Number(typed) : typed);

/** Fields that every sender has and that can be changed later. */
function SenderFields({ form, kind }: { form: UseFormReturn<SenderBody>; kind: Sender['kind'] }) {
  const { control } = form;
  return (
    <>
      <FormText
        control={control}
        name="parts_per_second"
        label="Parts a second"
        read={wholeNumber}
        input={{ inputMode: 'numeric' }}
        helperText="As your carrier allows; a long number in North America usually one (common practice)."
      />
      {kind !== 'name' && (
        <FormText
          control={control}
          name="reply_days"
          label="Replies are read for so many days"
          read={(typed) => (typed.trim() === '' ? null : wholeNumber(typed))}
          input={{ inputMode: 'numeric' }}
          helperText="Left empty: always. Else each text says until which day, and what comes later counts nowhere by itself. STOP always counts."
        />
      )}
    </>
  );
}

/** A sender as it is: what it is called, how fast it may go, how long its replies are read. Its address stays: people know it. */
function SenderChange({ sender, done }: { sender: Sender; done: () => void }) {
  const say = useSay();
  const change = useAct(setup.changeSender);
  const [error, setError] = useState<unknown>();
  const { name, kind, address, parts_per_second, reply_days } = sender;
  const form = useContractForm(SenderBody, { name, kind, address, parts_per_second, reply_days });
  const submit = useSubmit(
    form,
    async (body) => {
      await change({
        params: { id: sender.id },
        body: { name: body.name, parts_per_second: body.parts_per_second, reply_days: body.reply_days ?? null },
      });
      say(`${body.name} is changed: runs that are agreed stay as they were shown.`);
      done();
    },
    setError,
  );
  return (
    <Form noValidate gap={12} aria-label={`Change ${name}`} onSubmit={(event) => void submit(event)}>
      <Words as="h3" above={16}>
        Change {showPhone(address)}
      </Words>
      <FormGrid>
        <FormText control={form.control} name="name" label="Name of the sender" />
        <SenderFields form={form} kind={kind} />
      </FormGrid>
      <Trouble error={error} />
      <Row>
        <Button type="submit" variant="contained" disabled={form.formState.isSubmitting}>
          Keep it
        </Button>
        <Button onClick={done}>Leave it as it was</Button>
      </Row>
    </Form>
  );
}

/** What a first sender of a desk with the practice carrier begins with: its name, once it has one. */
export const firstSender = (data: SetupAnswer): string | undefined =>
  !data.carrier.practice || data.senders.length > 0
    ? undefined
    : data.workspace.name === 'Our workspace'
      ? ''
      : data.workspace.name.slice(0, 40);

/** A new sender. `first`: the name that a first one begins with, on the practice number. */
export function SenderForm({ first, added }: { first?: string; added?: () => void }) {
  const practice = first !== undefined;
  const offered = first ?? '';
  const say = useSay();
  const add = useAct(setup.addSender);
  const [error, setError] = useState<unknown>();
  const form = useContractForm(SenderBody, {
    name: offered,
    kind: 'long' as const,
    address: practice ? PRACTICE_NUMBER : '',
    parts_per_second: 1,
    reply_days: null as number | null,
  });
  const {
    reset,
    formState: { isDirty, isSubmitted },
  } = form;
  useEffect(() => {
    // the workspace has just been given its name; what somebody has typed already stays, and what was said of a press, too
    if (!isDirty && !isSubmitted) reset((now) => ({ ...now, name: offered }));
  }, [offered, isDirty, isSubmitted, reset]);
  const kind = useWatch({ control: form.control, name: 'kind' });
  const submit = useSubmit(
    form,
    async (body) => {
      await add({ body });
      say(`${body.name} is there.`);
      form.reset({ name: '', kind: body.kind, address: '', parts_per_second: 1, reply_days: null });
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
          placeholder={kind === 'long' ? '+1 207 555 0188' : kind === 'short' ? '72345' : 'up to 11 characters'}
        />
        <SenderFields form={form} kind={kind} />
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
