import { Button } from '@mui/material';
import { useState } from 'react';
import { TesterBody, testers, type Tester } from '../../core/api/sending/testers';
import { useAct, useGet } from '../api/client';
import { useWork } from '../api/work';
import { Tick } from '../pieces/form/choices';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { Bit, Form, FormGrid, Row, Words } from '../pieces/layout';
import { showPhone } from '../pieces/phone';
import { RemoveButton } from '../pieces/table/RemoveButton';
import { useSay } from '../pieces/Said';
import { Nothing, Trouble, Waiting } from '../pieces/small';

/** Numbers of the desk: where test texts may go beside one's own, and who gets a copy of every broadcast. */
export function TestersPart({ manage }: { manage: boolean }) {
  const say = useSay();
  const all = useGet(testers.list, {}, { keep: true });
  const change = useAct(testers.change);
  const remove = useAct(testers.remove, { shown: true });
  const { work, busy, error } = useWork();
  const columns: Column<Tester>[] = [
    { key: 'name', heading: 'Name', cell: (each) => each.name },
    { key: 'number', heading: 'Number', nobreak: true, cell: (each) => showPhone(each.number) },
    {
      key: 'copies',
      heading: 'Copy of every broadcast',
      cell: (each) =>
        manage ? (
          <Tick
            checked={each.copies}
            disabled={busy}
            label={`A copy of every broadcast to ${each.name}`}
            onChange={(copies) =>
              void work(async () => {
                await change({ params: { id: each.id }, body: { copies } });
                say(copies ? `${each.name} gets a copy of every broadcast.` : `${each.name} gets no more copies.`);
              })
            }
          />
        ) : each.copies ? (
          'yes'
        ) : (
          <Bit soft>no</Bit>
        ),
    },
    {
      key: 'acts',
      heading: '',
      said: 'Remove',
      num: true,
      cell: (each) =>
        manage && (
          <RemoveButton
            name={each.name}
            disabled={busy}
            onClick={() => void work(() => remove({ params: { id: each.id } }).then(() => say(`${each.name} is removed.`)))}
          />
        ),
    },
  ];
  if (all.isPending) return <Waiting what="Looking at the numbers of the desk…" />;
  return (
    <>
      <Words as="h2" above={26}>
        Numbers of the desk
      </Words>
      <Words as="p" soft small below={8}>
        Test texts may go to them beside the number of whoever writes; those ticked get a copy of every broadcast, which is paid
        like any text and counted as nobody.
      </Words>
      <DataTable
        label="Numbers of the desk"
        columns={columns}
        rows={all.data?.testers ?? []}
        error={all.error}
        idOf={(each) => each.id}
        empty={<Nothing title="None yet">Whoever writes can text a proof to their own number.</Nothing>}
      />
      <Trouble error={error} />
      {manage && <TesterForm />}
    </>
  );
}

function TesterForm() {
  const say = useSay();
  const add = useAct(testers.add);
  const [error, setError] = useState<unknown>();
  const form = useContractForm(TesterBody, { name: '', number: '', copies: false });
  const submit = useSubmit(
    form,
    async (body) => {
      await add({ body });
      say(`${body.name} is there.`);
      form.reset({ name: '', number: '', copies: false });
    },
    setError,
  );
  return (
    <Form noValidate gap={12} onSubmit={(event) => void submit(event)}>
      <FormGrid>
        <FormText control={form.control} name="name" label="Name of the tester" />
        <FormText control={form.control} name="number" label="Number of the tester" input={{ inputMode: 'tel' }} />
      </FormGrid>
      <Trouble error={error} />
      <Row>
        <Button type="submit" disabled={form.formState.isSubmitting}>
          Add a number
        </Button>
      </Row>
    </Form>
  );
}
