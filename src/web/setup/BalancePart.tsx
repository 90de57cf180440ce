import { Button } from '@mui/material';
import type { Static } from 'typebox';
import { Type } from 'typebox';
import { useState } from 'react';
import { setup, type BalanceRow, type SetupAnswer } from '../../core/api/setup';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { count, money, when } from '../pieces/format';
import { Bit, Fact, Form, Row, Words } from '../pieces/layout';
import { Pager } from '../pieces/table/Pager';
import { useSay } from '../pieces/Said';
import { Sides } from '../pieces/Sides';
import { Nothing, Trouble, useNow, Waiting } from '../pieces/small';
import { Way } from '../pieces/ways';

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
          {ENTRIES[each.kind] ?? each.kind.replace('_', ' ')}{' '}
          {each.run_id === null ? <Bit soft>{each.what}</Bit> : <Way to={`/runs/${each.run_id}`}>{each.what || 'no name'}</Way>}
        </>
      ),
    },
    { key: 'amount', heading: 'Amount', num: true, nobreak: true, cell: (each) => money(each.amount_micro, currency) },
  ];
  // together: what comes late would move what is paid and pressed beside it
  if (entries.isPending) return <Waiting what="Looking at the balance…" />;
  return (
    <Sides
      beside={
        <>
          <Row between base below={6}>
            <h2>On the account</h2>
            <Bit fig figure="mid">
              {money(data.balance_micro, currency)}
            </Bit>
          </Row>
          <PaysFor data={data} />
          {manage && <AddToBalance currency={currency} />}
          <Words as="p" soft small above={12}>
            What a broadcast costs is set aside when it is agreed, paid as its texts go, and what was too much comes back when the
            last text has come to its end.
          </Words>
        </>
      }
    >
      <h2>Balance</h2>
      <DataTable
        label="Movements of the balance"
        columns={columns}
        rows={entries.data?.entries ?? []}
        idOf={(each) => each.id}
        error={entries.error}
        empty={<Nothing title="Nothing yet">What is put on the account and what is spent stands here.</Nothing>}
      />
      <Pager skip={skip} page={PAGE} total={entries.data?.total} go={setSkip} />
    </Sides>
  );
}

/** How far the money goes, by destination: what somebody who pays wants to know of it. */
function PaysFor({ data: { rates, balance_micro } }: { data: SetupAnswer }) {
  return (
    <>
      {rates.slice(0, 3).map((rate) => (
        <Fact key={rate.prefix} tight>
          <span>text parts to {rate.destination}</span>
          <Bit fig>{rate.price_micro === 0 ? 'free' : count(Math.floor(Math.max(0, balance_micro) / rate.price_micro))}</Bit>
        </Fact>
      ))}
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
      <Row starts above={10}>
        <Words grow most={220}>
          <FormText control={form.control} name="amount" label={`Amount to add, ${currency}`} input={{ inputMode: 'decimal' }} />
        </Words>
        <Button type="submit" variant="contained" size="medium" disabled={form.formState.isSubmitting}>
          Add to the balance
        </Button>
      </Row>
      <Trouble error={error} />
    </Form>
  );
}
