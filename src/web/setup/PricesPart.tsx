import DeleteOutline from '@mui/icons-material/DeleteOutlined';
import { Button, IconButton } from '@mui/material';
import { useState } from 'react';
import { Type } from 'typebox';
import { setup, type RateBody, type SetupAnswer } from '../../core/api/setup';
import { readRates, STARTER_CARD } from '../../core/plan/money/rate-card';
import { useAct } from '../api/client';
import { useWork } from '../api/work';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { FileButton } from '../pieces/form/FileButton';
import { FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { count, money } from '../pieces/format';
import { Bit, Form, FormGrid, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Sides } from '../pieces/Sides';
import { Nothing, Trouble } from '../pieces/small';

/** What a part costs, by the beginning of the number. */
export default function PricesPart({ data, manage }: { data: SetupAnswer; manage: boolean }) {
  const remove = useAct(setup.removeRate);
  const set = useAct(setup.setRates);
  const say = useSay();
  const { work, busy, error } = useWork();
  const columns: Column<RateBody>[] = [
    { key: 'prefix', heading: 'Prefix', width: 110, cell: (each) => each.prefix },
    { key: 'destination', heading: 'Destination', cell: (each) => each.destination },
    {
      key: 'price',
      heading: 'A part costs',
      num: true,
      cell: (each) => money(each.price_micro, data.workspace.currency),
    },
    {
      key: 'thousand',
      heading: 'A thousand cost',
      num: true,
      cell: (each) => money(each.price_micro * 1000, data.workspace.currency),
    },
    {
      key: 'acts',
      heading: '',
      said: 'Remove',
      num: true,
      width: 50,
      cell: (each) =>
        manage && (
          <IconButton
            disabled={busy}
            aria-label={`Remove the price of ${each.prefix}`}
            onClick={() =>
              void work(async () => {
                await remove({ params: { prefix: each.prefix } });
                say(`Nothing is sent to ${each.prefix} any more.`, () => void work(() => set({ body: { rates: [each] } })));
              })
            }
          >
            <DeleteOutline fontSize="small" />
          </IconButton>
        ),
    },
  ];
  return (
    <Sides beside={manage && <PriceForms first={data.rates.length === 0} />}>
      <h2>Prices</h2>
      <Words as="p" soft small below={6}>
        A short text in plain characters is one part; longer ones and extended characters take more. The longest prefix that a
        number begins with counts; where there is none, nothing is sent.
      </Words>
      <DataTable
        label="Prices"
        columns={columns}
        rows={data.rates}
        idOf={(each) => each.prefix}
        empty={
          <Nothing title="No prices yet">Take your carrier’s card from a CSV, type it, or begin with the starter card.</Nothing>
        }
      />
      <Trouble error={error} />
    </Sides>
  );
}

const Typed = Type.Object({
  prefix: Type.String({ pattern: '^\\+[1-9]\\d{0,6}$' }),
  destination: Type.String({ minLength: 1, maxLength: 60 }),
  price: Type.String({ pattern: '^\\d{1,2}([.,]\\d{1,6})?$' }),
});

/** Prices from the starter card, from a file, or one by one. */
export function PriceForms({ first, done }: { first: boolean; done?: () => void }) {
  const set = useAct(setup.setRates);
  const say = useSay();
  const { work, busy, error: failed } = useWork();
  const [error, setError] = useState<unknown>();
  const form = useContractForm(
    Typed,
    { prefix: '+', destination: '', price: '' },
    { words: { prefix: '“+” and the first digits, such as +1 or +44.', price: 'A price such as 0.0075.' } },
  );
  const submit = useSubmit(
    form,
    async ({ prefix, destination, price }) => {
      await set({ body: { rates: [{ prefix, destination, price_micro: Math.round(Number(price.replace(',', '.')) * 1e6) }] } });
      form.reset({ prefix: '+', destination: '', price: '' });
      say(`${destination} has its price.`);
      done?.();
    },
    setError,
  );
  const take = (rates: RateBody[], words: string) =>
    work(async () => {
      await set({ body: { rates } });
      say(words);
      done?.();
    });
  const { control } = form;
  return (
    <>
      <Row above={10}>
        {first && (
          <Button
            variant="contained"
            disabled={busy}
            onClick={() => void take(STARTER_CARD, `The starter card is there: ${STARTER_CARD.length} destinations.`)}
          >
            Begin with the starter card
          </Button>
        )}
        <FileButton
          disabled={busy}
          label="Prices as a CSV file"
          accept=".csv,text/csv,text/plain"
          chosen={(file) =>
            void work(async () => {
              const { rates, wrong } = readRates(await file.text());
              if (rates.length === 0) throw new Error(wrong[0] ?? `${file.name} holds no prices.`);
              await take(rates, `${count(rates.length)} prices are there${wrong.length > 0 ? `. ${wrong[0]}` : '.'}`);
            })
          }
        >
          From a CSV…
        </FileButton>
        <Bit soft small>
          columns prefix, destination, price; the starter card’s prices are made up
        </Bit>
      </Row>
      <Trouble error={failed} />
      <Form noValidate gap={12} onSubmit={(event) => void submit(event)}>
        <Words as="h3" above={16}>
          One price
        </Words>
        <FormGrid>
          <FormText control={control} name="prefix" label="Prefix" />
          <FormText control={control} name="destination" label="Destination" />
          <FormText
            control={control}
            name="price"
            label="Price of a part"
            placeholder="0.0075"
            input={{ inputMode: 'decimal' }}
          />
        </FormGrid>
        <Trouble error={error} />
        <Row>
          <Button type="submit" disabled={form.formState.isSubmitting}>
            Set the price
          </Button>
        </Row>
      </Form>
    </>
  );
}
