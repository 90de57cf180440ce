import { Button } from '@mui/material';
import { useState } from 'react';
import { Type } from 'typebox';
import { CarrierBody, setup } from '../../core/api/setup';
import { Shape } from '../../core/api/shapes';
import { useAct } from '../api/client';
import { FormChoice, FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { Form, FormGrid, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble } from '../pieces/small';

const { alphabet, receipt_ids, at_once, tests_a_day } = CarrierBody.properties;
const Amount = Type.String({ pattern: '^\\d{1,4}([.,]\\d{1,2})?$' });
const Fields = Shape({ alphabet, receipt_ids, at_once, tests_a_day, strangers: Amount, tests: Amount });
const amountOf = (micro: number) => String(micro / 1e6);
const microOf = (amount: string) => Math.round(Number(amount.replace(',', '.')) * 1e6);

const AN_AMOUNT = 'An amount such as 2 or 1.50.';

/** How this carrier writes what it hands over, and what may be spent in a day without a broadcast. */
export function CarrierWays({ ways, currency, manage }: { ways: CarrierBody; currency: string; manage: boolean }) {
  const save = useAct(setup.carrier);
  const say = useSay();
  const [error, setError] = useState<unknown>();
  const form = useContractForm(
    Fields,
    {
      alphabet: ways.alphabet,
      receipt_ids: ways.receipt_ids,
      at_once: ways.at_once,
      tests_a_day: ways.tests_a_day,
      strangers: amountOf(ways.strangers_a_day_micro),
      tests: amountOf(ways.tests_a_day_micro),
    },
    { words: { strangers: AN_AMOUNT, tests: AN_AMOUNT, tests_a_day: 'A number such as 100.' } },
  );
  const submit = useSubmit(
    form,
    async ({ strangers, tests, ...body }) => {
      await save({ body: { ...body, strangers_a_day_micro: microOf(strangers), tests_a_day_micro: microOf(tests) } });
      say('It is saved.');
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
        <FormChoice
          control={form.control}
          name="at_once"
          label="Texts that phones show at once (class 0)"
          disabled={disabled}
          options={[
            ['any', 'it takes them (0x10, extended 0x18)'],
            ['plain', 'plain characters only (0x10)'],
            ['plain_group', 'plain characters only (0xF0)'],
            ['none', 'it takes none'],
          ]}
        />
      </FormGrid>
      <Words as="h2" line above={18} pad="14px 0 0">
        What a day may cost without a broadcast
      </Words>
      <FormGrid>
        <FormText
          control={form.control}
          name="tests_a_day"
          label="Tests of one account a day"
          disabled={disabled}
          read={(typed) => (/^\d+$/.test(typed.trim()) ? Number(typed) : typed)}
          input={{ inputMode: 'numeric' }}
        />
        <FormText
          control={form.control}
          name="tests"
          label={`Tests of all, ${currency} a day at most`}
          disabled={disabled}
          input={{ inputMode: 'decimal' }}
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
        What answers by itself (help, a keyword, nobody at the desk) costs money, and so does a test. Confirming that somebody
        opted out is never held back by it.
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
