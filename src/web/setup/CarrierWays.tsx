import { Button } from '@mui/material';
import { useState } from 'react';
import { Type } from 'typebox';
import { CarrierBody, setup } from '../../core/api/setup';
import { Shape } from '../../core/api/shapes';
import { useAct } from '../api/client';
import { FormChoice, FormText, useContractForm, useSubmit } from '../pieces/form';
import { Form, FormGrid, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble } from '../pieces/small';

const { alphabet, receipt_ids } = CarrierBody.properties;
const Fields = Shape({ alphabet, receipt_ids, strangers: Type.String({ pattern: '^\\d{1,4}([.,]\\d{1,2})?$' }) });

/** How this carrier writes what it hands over, and what answers to numbers that nobody here knows may cost. */
export function CarrierWays({ ways, currency, manage }: { ways: CarrierBody; currency: string; manage: boolean }) {
  const save = useAct(setup.carrier);
  const say = useSay();
  const [error, setError] = useState<unknown>();
  const form = useContractForm(
    Fields,
    { alphabet: ways.alphabet, receipt_ids: ways.receipt_ids, strangers: String(ways.strangers_a_day_micro / 1e6) },
    { words: { strangers: 'An amount such as 2 or 1.50.' } },
  );
  const submit = useSubmit(
    form,
    async ({ strangers, ...body }) => {
      await save({ body: { ...body, strangers_a_day_micro: Math.round(Number(strangers.replace(',', '.')) * 1e6) } });
      say('How the carrier writes is saved.');
    },
    setError,
  );
  const disabled = !manage;
  return (
    <Form noValidate gap={14} onSubmit={(event) => void submit(event)}>
      <Words as="h2" line above={18} pad="14px 0 0">
        How it writes
      </Words>
      <Words soft small>
        The carrier’s papers say it. If texts from phones come with wrong letters (é becomes J), its own alphabet is another; if
        nothing is ever shown as delivered, its receipts may write the ids of texts otherwise.
      </Words>
      <FormGrid>
        <FormChoice
          control={form.control}
          name="alphabet"
          label="Its own alphabet, for texts that name none"
          disabled={disabled}
          options={[
            ['gsm7', 'that of phones (GSM 7-bit)'],
            ['latin1', 'Western European (Latin-1)'],
            ['ascii', 'plain letters only (ASCII)'],
          ]}
        />
        <FormChoice
          control={form.control}
          name="receipt_ids"
          label="Ids of texts in its receipts"
          disabled={disabled}
          options={[
            ['same', 'as in its answers'],
            ['decimal', 'decimal, where its answers are hexadecimal'],
            ['hexadecimal', 'hexadecimal, where its answers are decimal'],
          ]}
        />
        <FormText
          control={form.control}
          name="strangers"
          label={`Answers to numbers nobody knows, ${currency} a day at most`}
          disabled={disabled}
          input={{ inputMode: 'decimal' }}
        />
      </FormGrid>
      <Words soft small>
        What answers by itself (help, a keyword, nobody at the desk) costs money. Confirming that somebody opted out is never held
        back by it.
      </Words>
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
