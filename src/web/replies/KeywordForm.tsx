import { showPhone } from '../pieces/phone';
import { Button } from '@mui/material';
import { useState } from 'react';
import { Controller, useWatch, type Control } from 'react-hook-form';
import type { Static } from 'typebox';
import { keywords as api, type Keyword } from '../../core/api/desk/keywords';
import { people } from '../../core/api/people/people';
import { setup } from '../../core/api/setup';
import { besidePoster, missingIn, posterLine } from '../../core/outcome/poster';
import { lookAlike } from '../../core/outcome/sign-up';
import { parts as partsOf } from '../pieces/format';
import { measure } from '../../core/text/measure';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { Tick } from '../pieces/form/choices';
import { FormChoice, FormText, useContractForm, useSubmit } from '../pieces/form/form';
import { FormDate } from '../pieces/form/form-date';
import { Form, FormGrid, Row, Words } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble, Waiting } from '../pieces/small';
import { bodyOf, KeywordFields, startOf } from './keyword-fields';

/** What a keyword does and says; the poster's line grows beneath. */
export function KeywordForm(props: {
  keyword: Keyword | undefined;
  others: readonly Keyword[];
  workspaceName: string;
  disabled: boolean;
  done: (id: number) => void;
}) {
  const sources = useGet(people.sources, {}, { keep: true }).data;
  const known = useGet(setup.get, {}, { keep: true }).data;
  if (!sources || !known) return <Waiting what="Opening…" />;
  const senders = known.senders.filter(({ kind }) => kind !== 'name');
  if (senders.length === 0)
    return <Words>There is no sender that takes replies. Add a long number or a short code in Setup first.</Words>;
  return <Fields {...props} senders={senders} lists={sources.lists} tags={sources.tags} />;
}

type KeywordControl = Control<Static<typeof KeywordFields>>;
interface Named {
  id: number;
  name: string;
}

function Fields({
  keyword,
  others,
  workspaceName,
  disabled,
  done,
  senders,
  lists,
  tags,
}: Parameters<typeof KeywordForm>[0] & {
  senders: readonly (Named & { address: string })[];
  lists: readonly Named[];
  tags: readonly Named[];
}) {
  const { zone } = useDesk().workspace;
  const say = useSay();
  const add = useAct(api.add);
  const change = useAct(api.change);
  const [error, setError] = useState<unknown>();
  const form = useContractForm(KeywordFields, startOf(keyword, senders[0].id, workspaceName, zone));
  const { control } = form;
  const now = useWatch({ control });
  const submit = useSubmit(
    form,
    async (fields) => {
      const body = bodyOf(fields, zone, keyword);
      if (keyword) await change({ params: { id: keyword.id }, body });
      else done((await add({ body })).id);
      say(keyword ? `“${fields.word}” is changed.` : `“${fields.word}” holds. Put up its poster.`);
    },
    setError,
  );
  const sender = senders.find(({ id }) => String(id) === now.sender_id);
  const alike = others.filter((each) => each.sender_id === sender?.id && lookAlike(each.word, now.word ?? '') && now.word);
  const named = (all: readonly Named[]) => [['', 'none'] as const, ...all.map(({ id, name }) => [String(id), name] as const)];
  return (
    <Form noValidate gap={12} onSubmit={(event) => void submit(event)}>
      <Where control={control} disabled={disabled} senders={senders} named={named} lists={lists} tags={tags} />
      {alike.length > 0 && (
        <Words plum small role="status">
          It is easily taken for {alike.map(({ word }) => word).join(', ')}: on a phone they are a letter apart.
        </Words>
      )}
      <FormChoice
        control={control}
        name="purpose"
        label="They agree to"
        disabled={disabled}
        options={[
          ['service', 'service notices'],
          ['marketing', 'marketing'],
        ]}
      />
      <FormText
        control={control}
        name="consent_wording"
        label="What they agree to, as the poster says it"
        multiline
        disabled={disabled}
        helperText="What you send and how often. It is kept with everyone who signs up."
      />
      <FormText
        control={control}
        name="confirms"
        label="What answers them"
        multiline
        disabled={disabled}
        helperText={<InWords words={now.confirms ?? ''} workspace={workspaceName} />}
      />
      <Controller
        control={control}
        name="asks_first"
        render={({ field }) => (
          <Tick checked={field.value === true} disabled={disabled} onChange={field.onChange}>
            Ask them first; only a yes within a day signs them up
          </Tick>
        )}
      />
      {now.asks_first && (
        <FormText
          control={control}
          name="asks"
          label="What asks them"
          multiline
          disabled={disabled}
          helperText={<InWords words={now.asks ?? ''} workspace={workspaceName} />}
        />
      )}
      <Poster now={now} sender={sender} workspaceName={workspaceName} />
      <Trouble error={error} />
      {!disabled && (
        <Row>
          <Button
            type="submit"
            variant="contained"
            disabled={form.formState.isSubmitting || (keyword && !form.formState.isDirty)}
          >
            {keyword ? 'Save the keyword' : 'Add the keyword'}
          </Button>
        </Row>
      )}
    </Form>
  );
}

/** The word, at which sender, and what it puts them on. */
function Where({
  control,
  disabled,
  senders,
  named,
  lists,
  tags,
}: {
  control: KeywordControl;
  disabled: boolean;
  senders: readonly (Named & { address: string })[];
  named: (all: readonly Named[]) => (readonly [string, string])[];
  lists: readonly Named[];
  tags: readonly Named[];
}) {
  return (
    <FormGrid>
      <FormText
        control={control}
        name="word"
        label="The word"
        disabled={disabled}
        input={{ maxLength: 30, autoComplete: 'off' }}
        helperText="Large or small letters and accents make no difference."
      />
      <FormChoice
        control={control}
        name="sender_id"
        label="Texted to"
        disabled={disabled}
        options={senders.map(({ id, name, address }) => [String(id), `${name} (${showPhone(address)})`] as const)}
      />
      <FormChoice control={control} name="list_id" label="Puts them on the list" disabled={disabled} options={named(lists)} />
      <FormChoice control={control} name="tag_id" label="And under the tag" disabled={disabled} options={named(tags)} />
      <FormDate control={control} name="from_day" label="From (today, if empty)" />
      <FormDate control={control} name="until_day" label="To and with (open, if empty)" />
    </FormGrid>
  );
}

/** What stands on a poster. */
function Poster({
  now,
  sender,
  workspaceName,
}: {
  now: Partial<Static<typeof KeywordFields>>;
  sender: (Named & { address: string }) | undefined;
  workspaceName: string;
}) {
  return (
    <Words line pad="12px 0 0">
      <Words figure="mid">{posterLine({ word: now.word || '…', address: sender?.address ?? '' })}</Words>
      {besidePoster(
        {
          word: now.word ?? '',
          address: '',
          purpose: now.purpose ?? 'service',
          consent_wording: now.consent_wording ?? '',
          asks_first: now.asks_first === true,
        },
        workspaceName,
      ).map((line) => (
        <Words soft small key={line}>
          {line}
        </Words>
      ))}
    </Words>
  );
}

/** Parts of what answers, and what is missing in it. */
function InWords({ words, workspace }: { words: string; workspace: string }) {
  const { parts } = measure(words);
  const lacks = missingIn(words, workspace);
  return (
    <>
      {partsOf(parts)}, paid like any text.
      {lacks.includes('who') && ' It does not say who writes.'}
      {lacks.includes('stop') && ' It does not say how to stop.'}
    </>
  );
}
