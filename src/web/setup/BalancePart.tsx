import { Button } from '@mui/material';
import type { Static } from 'typebox';
import { Type } from 'typebox';
import { useState } from 'react';
import { setup, type BalanceRow, type SetupAnswer } from '../../core/api/setup';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { money, when } from '../pieces/format';
import { Bit, Form, Row, Words } from '../pieces/layout';
import { Pager } from '../pieces/table/Pager';
import { useSay } from '../pieces/Said';
import { Nothing, Trouble, useNow } from '../pieces/small';

const PAGE = 50;
/** What has been done with money, as it is said. */
const ENTRIES: Readonly<Record<string, string>> = {
  top_up: 'added',
  hold: 'set aside for',
  spend: 'paid for',
  release: 'given back from',
};
type Entry = Static<typeof BalanceRow>;

/** What is on the account, and what went on and off it. */
export default function BalancePart({ data, manage }: { data: SetupAnswer; manage: boolean }) {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const [skip, setSkip] = useState(0);
  const entries = useGet(setup.balanceEntries, { query: { skip } }, { keep: true });
  const currency = data.workspace.currency;
  const columns: Column<Entry>[] = [
    {
      key: 'at',
      heading: 'When',
      nobreak: true,
      width: 180,
      cell: (each) => <Bit soft>{when(each.at, workspace.zone, now)}</Bit>,
    },
    {
      key: 'what',
      heading: 'What',
      cell: (each) => (
        <>
          {ENTRIES[each.kind] ?? each.kind.replace('_', ' ')} <Bit soft>{each.what}</Bit>
        </>
      ),
    },
    { key: 'amount', heading: 'Amount', num: true, nobreak: true, cell: (each) => money(each.amount_micro, currency) },
  ];
  return (
    <>
      <Row between base>
        <h2>Balance</h2>
        <Bit fig figure="mid">
          {money(data.balance_micro, currency)}
        </Bit>
      </Row>
      <Words as="p" soft small>
        Texts are paid from it: held when a broadcast is sent, settled when its last text has come to its end.
      </Words>
      {manage && <AddToBalance currency={currency} />}
      <Words as="h3" above={16}>
        What went on and off it
      </Words>
      <DataTable
        label="Movements of the balance"
        columns={columns}
        rows={entries.data?.entries ?? []}
        idOf={(each) => each.id}
        loading={entries.isPending}
        error={entries.error}
        empty={<Nothing title="Nothing yet">What is put on the account and what is spent stands here.</Nothing>}
      />
      <Pager skip={skip} page={PAGE} total={entries.data?.total} go={setSkip} />
    </>
  );
}

const Amount = Type.Object({ amount: Type.String({ pattern: '^\\d{1,5}([.,]\\d{1,2})?$' }) });

/** Something put on the account by hand. */
export function AddToBalance({ currency, done, start = '' }: { currency: string; done?: () => void; start?: string }) {
  const say = useSay();
  const add = useAct(setup.addBalance);
  const [error, setError] = useState<unknown>();
  const form = useContractForm(Amount, { amount: start }, { words: { amount: 'An amount such as 25 or 12.50.' } });
  const submit = useSubmit(
    form,
    async ({ amount }) => {
      const amount_micro = Math.round(Number(amount.replace(',', '.')) * 1e6);
      await add({ body: { amount_micro } });
      form.reset({ amount: '' });
      say(`${money(amount_micro, currency)} is on the account.`);
      done?.();
    },
    setError,
  );
  return (
    <Form noValidate onSubmit={(event) => void submit(event)}>
      <Row starts nowrap above={10} most={420}>
        <FormText control={form.control} name="amount" label={`Amount to add, ${currency}`} input={{ inputMode: 'decimal' }} />
        <Button type="submit" variant="contained" size="medium" disabled={form.formState.isSubmitting}>
          Add to the balance
        </Button>
      </Row>
      <Trouble error={error} />
    </Form>
  );
}
