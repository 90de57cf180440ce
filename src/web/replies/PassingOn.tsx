import { Button } from '@mui/material';
import { useState } from 'react';
import { FormProvider, useWatch } from 'react-hook-form';
import { Type } from 'typebox';
import { keywords as keywordsApi } from '../../core/api/desk/keywords';
import { passing, PassOnBody, type PassOn } from '../../core/api/desk/passing';
import { mayDo } from '../../core/api/roles';
import { Shape } from '../../core/api/shapes';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { DataTable, type Column } from '../pieces/table/DataTable';
import { FormChoice, useContractForm, useSubmit } from '../pieces/form/form';
import { count, when } from '../pieces/format';
import { Bit, Form, FormGrid, Head, Pane, Row, Words } from '../pieces/layout';
import { showPhone } from '../pieces/phone';
import { useSay } from '../pieces/Said';
import { Nothing, Trouble, useNow, useTitle, Waiting } from '../pieces/small';
import { Way } from '../pieces/ways';
import { AreaWays } from './AreaWays';
import { AnyHour, PassToFields } from './PassToFields';

const WHAT = {
  all: 'all replies',
  keyword: 'the keyword',
  broadcast: 'the broadcast',
  conversation: 'the conversation with',
} as const;

/** What is passed on; a conversation is a way to it. */
const whatOf = ({ what, of, number }: PassOn) =>
  number !== null ? (
    <>
      {WHAT[what]} <Way to={`/replies?number=${encodeURIComponent(number)}`}>{of === number ? showPhone(number) : of}</Way>, for a
      week after the last
    </>
  ) : (
    `${WHAT[what]}${of ? ` “${of}”` : ''}`
  );

/** To whom replies are passed on, by text or by mail; their answers come back as from the workspace. */
export default function PassingOn() {
  useTitle('Passing on');
  const { account, workspace, offset } = useDesk();
  const now = useNow(offset, 30_000);
  const answer = useGet(passing.list, {}, { keep: true });
  const say = useSay();
  const end = useAct(passing.end, { shown: true });
  const again = useAct(passing.again);
  const { work, busy, error } = useWork();
  const may = mayDo(account.role, 'write');
  const columns: Column<PassOn>[] = [
    {
      key: 'name',
      heading: 'To',
      cell: (each) => (
        <>
          {each.name} <Bit soft>{each.way === 'text' ? showPhone(each.address) : each.address}</Bit>
          {each.trouble && (
            <Words brick small role="status">
              {each.trouble}
            </Words>
          )}
        </>
      ),
    },
    { key: 'what', folds: true, heading: 'What', cell: whatOf },
    {
      key: 'way',
      folds: true,
      heading: 'How',
      cell: (each) => (each.way === 'mail' ? 'by mail' : each.any_hour ? 'by text, at any hour' : 'by text'),
    },
    { key: 'n', folds: true, heading: 'Passed on', num: true, cell: (each) => <Bit fig>{count(each.passed)}</Bit> },
    { key: 'answered', folds: true, heading: 'Answered', num: true, cell: (each) => <Bit fig>{count(each.answered)}</Bit> },
    {
      key: 'last',
      folds: true,
      heading: 'Last',
      cell: (each) => <Bit soft>{each.last_at ? when(each.last_at, workspace.zone, now) : 'nothing yet'}</Bit>,
    },
    {
      key: 'acts',
      folds: true,
      heading: '',
      said: 'Acts',
      num: true,
      nobreak: true,
      cell: (each) =>
        may && (
          <Row gap={12} nowrap>
            {each.trouble && (
              <Way
                small
                disabled={busy}
                onClick={() =>
                  void work(async () => {
                    const { again: n } = await again({ params: { id: each.id } });
                    say(n === 0 ? 'Nothing waits to be tried again.' : `${count(n)} of today are tried again.`);
                  })
                }
              >
                try again
              </Way>
            )}
            <Way
              small
              disabled={busy}
              onClick={() =>
                void work(() => end({ params: { id: each.id } }).then(() => say(`Nothing more is passed on to ${each.name}.`)))
              }
            >
              end it
            </Way>
          </Row>
        ),
    },
  ];
  return (
    <>
      <Head>
        <h1>Passing on</h1>
        <AreaWays here="passing" />
      </Head>
      <Pane grow tabIndex={0} role="region" aria-label="Passing on" pad="14px 20px">
        <Words soft below={10} most={760}>
          What people write is passed on to whoever can answer it. Their answer goes back as a text from you, and it stands in
          Replies with their name. What a phone or a mailbox writes by itself is never passed on.
        </Words>
        <Trouble error={error ?? answer.error} />
        {!answer.data && !answer.error && <Waiting what="Looking…" />}
        {answer.data && (
          <DataTable
            label="Passed on to"
            columns={columns}
            rows={answer.data.rules}
            idOf={(each) => each.id}
            empty={<Nothing title="Nothing is passed on">Replies wait at the desk only.</Nothing>}
          />
        )}
        {answer.data && mayDo(account.role, 'manage') && (
          <Words most={760}>
            <NewOne mail={answer.data.mail} broadcasts={answer.data.broadcasts} />
          </Words>
        )}
      </Pane>
    </>
  );
}

const { what, name, way, address, any_hour } = PassOnBody.properties;
const Fields = Shape({ what, name, way, address, any_hour, of: Type.String() });

function NewOne({ mail, broadcasts }: { mail: boolean; broadcasts: readonly { id: number; name: string }[] }) {
  const say = useSay();
  const add = useAct(passing.add);
  const [error, setError] = useState<unknown>();
  const words = useGet(keywordsApi.list, {}, { keep: true }).data?.keywords.filter((each) => each.ended_at === null) ?? [];
  const fresh = { what: 'all' as const, name: '', way: 'text' as const, address: '', any_hour: false, of: '' };
  const form = useContractForm(Fields, fresh);
  const { control } = form;
  const now = useWatch({ control });
  const submit = useSubmit(
    form,
    async ({ of, ...body }) => {
      const id = of === '' ? null : Number(of);
      await add({
        body: {
          ...body,
          keyword_id: body.what === 'keyword' ? id : null,
          broadcast_id: body.what === 'broadcast' ? id : null,
        },
      });
      say(`Passed on to ${body.name} from now on.`);
      form.reset(fresh);
    },
    setError,
  );
  const of =
    now.what === 'keyword'
      ? words.map((each) => [String(each.id), each.word] as const)
      : broadcasts.map((each) => [String(each.id), each.name] as const);
  return (
    <FormProvider {...form}>
      <Form noValidate gap={12} onSubmit={(event) => void submit(event)}>
        <Words as="h2" above={22}>
          Pass on to somebody
        </Words>
        <FormGrid>
          <FormChoice
            control={control}
            name="what"
            label="What"
            options={[
              ['all', 'all replies'],
              ['broadcast', 'answers to a broadcast'],
              ['keyword', 'whoever signs up by a keyword'],
            ]}
          />
          {now.what !== 'all' && (
            <FormChoice
              control={control}
              name="of"
              label={now.what === 'keyword' ? 'Which keyword' : 'Which broadcast'}
              options={[['', 'choose'], ...of]}
            />
          )}
          <PassToFields mail={mail} />
        </FormGrid>
        <AnyHour />
        <Trouble error={error} />
        <Row>
          <Button type="submit" variant="contained" disabled={form.formState.isSubmitting}>
            Pass on from now on
          </Button>
        </Row>
      </Form>
    </FormProvider>
  );
}
