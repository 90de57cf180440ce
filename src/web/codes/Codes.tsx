import { Button, TextField } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import { codes as codesApi, type Added } from '../../core/api/sending/codes';
import { mayDo } from '../../core/api/roles';
import type { PlanSummary } from '../../core/api/sending/plan';
import type { Draft } from '../../core/plan/draft/draft';
import { askAgain, handOver, useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { Choose } from '../pieces/form/choices';
import { Field } from '../pieces/form/Field';
import { Search } from '../pieces/form/Search';
import { FileButton } from '../pieces/form/FileButton';
import { count, when } from '../pieces/format';
import { Bit, Column, Row, Words } from '../pieces/layout';
import { showPhone } from '../pieces/phone';
import { useSay } from '../pieces/Said';
import { Trouble, useNow, useSettled } from '../pieces/small';
import { AskingWay } from '../pieces/Sure';
import { Way } from '../pieces/ways';

const codesOf = (n: number) => (n === 1 ? '1 code' : `${count(n)} codes`);

/** One-time codes of a broadcast: of which list each recipient gets one, how many are left, more of them, and who got which. */
export function Codes({
  draft,
  plan,
  change,
  putIn,
}: {
  draft: Draft;
  plan: PlanSummary | undefined;
  change: (part: Partial<Draft>) => void;
  putIn: (source: string) => void;
}): ReactNode {
  const { account } = useDesk();
  const say = useSay();
  const lists = useGet(codesApi.lists, {}, { keep: true }).data?.lists ?? [];
  const remove = useAct(codesApi.remove);
  const { work, error } = useWork();
  const [adding, setAdding] = useState(false);
  const [finding, setFinding] = useState(false);
  const chosen = lists.find(({ id }) => id === draft.code_list_id);
  const may = mayDo(account.role, 'write');
  return (
    <Column gap={6}>
      <Row small between>
        <Row gap={6} base>
          Each recipient gets a code of
          <Choose
            label="List of codes"
            value={String(draft.code_list_id ?? '')}
            options={[
              ['', lists.length === 0 ? 'no list yet' : 'no list'],
              // chosen, and not loaded yet or gone
              ...(typeof draft.code_list_id === 'number' && !chosen ? [[String(draft.code_list_id), '…'] as const] : []),
              ...lists.map(({ id, name, free }) => [String(id), `${name}, ${count(free)} left`] as const),
            ]}
            onChange={(id) => change({ code_list_id: id === '' ? null : Number(id) })}
          />
          {plan?.codes && (
            <Bit soft>
              {count(plan.codes.needed)} needed{plan.codes.exact ? ', reserved' : ''}
            </Bit>
          )}
        </Row>
        <Button disabled={!chosen} onClick={() => putIn('{code}')}>
          Put a code in
        </Button>
      </Row>
      <Row small gap={12}>
        {may && (
          <Way small aria-expanded={adding} onClick={() => setAdding(!adding)}>
            bring in codes
          </Way>
        )}
        <Way small aria-expanded={finding} onClick={() => setFinding(!finding)}>
          who got which
        </Way>
        {may && chosen && chosen.given === 0 && (
          <AskingWay
            small
            says="delete the list…"
            title={`Delete “${chosen.name}”?`}
            act={`Delete its ${codesOf(chosen.free)}`}
            confirm={() =>
              void work(async () => {
                await remove({ params: { id: chosen.id } });
                change({ code_list_id: null });
                say(`“${chosen.name}” is deleted.`);
              })
            }
          >
            None of its codes was given to anybody.
          </AskingWay>
        )}
      </Row>
      {chosen && chosen.coming > 0 && (
        <Words small role="status">
          {count(chosen.coming)} are still to come. If that does not go down, bring in the same file again: the rest comes.
        </Words>
      )}
      <Trouble error={error} />
      {adding && <BringInCodes lists={lists} chosen={chosen?.id} added={(id) => change({ code_list_id: id })} />}
      {finding && <FindCode />}
    </Column>
  );
}

/** Codes from a file or pasted, one a line; said is what was taken and what was left out. */
function BringInCodes({
  lists,
  chosen,
  added,
}: {
  lists: readonly { id: number; name: string }[];
  chosen: number | undefined;
  added: (list: number) => void;
}): ReactNode {
  const client = useQueryClient();
  const { work, busy, error } = useWork();
  const [into, setInto] = useState(String(chosen ?? ''));
  const [name, setName] = useState('');
  const [text, setText] = useState('');
  const [done, setDone] = useState<Added>();
  const bring = (from: Blob, fileName: string) =>
    void work(async () => {
      const answer =
        into === ''
          ? await handOver(codesApi.make, { query: { name: name.trim() || fileName.replace(/\.\w+$/, '') } }, from)
          : await handOver(codesApi.add, { params: { id: Number(into) } }, from);
      void askAgain(client, codesApi.add.changes);
      setDone(answer);
      setText('');
      setName('');
      setInto(String(answer.id));
      added(answer.id);
    });
  return (
    <Column gap={8} line above={8}>
      <Row>
        <Row small gap={6} base>
          Into
          <Choose
            label="Into which list of codes"
            value={into}
            options={[['', 'a new list'], ...lists.map(({ id, name: known }) => [String(id), known] as const)]}
            onChange={setInto}
          />
        </Row>
        {into === '' && (
          <Row width={170}>
            <Field
              label="Name of the list of codes"
              placeholder="its name"
              value={name}
              onChange={(next) => setName(next.slice(0, 80))}
            />
          </Row>
        )}
        <FileButton
          label="File of codes"
          accept=".txt,.csv,.tsv,text/plain,text/csv"
          disabled={busy}
          chosen={(file) => bring(file, file.name)}
        >
          Choose a file
        </FileButton>
      </Row>
      <TextField
        multiline
        rows={3}
        hiddenLabel
        placeholder="or paste them, one a line"
        value={text}
        onChange={(event) => setText(event.target.value)}
        slotProps={{ htmlInput: { 'aria-label': 'Codes, one a line' } }}
      />
      <Row>
        <Button
          variant="contained"
          disabled={busy || text.trim() === '' || (into === '' && name.trim() === '')}
          onClick={() => bring(new Blob([text]), 'pasted')}
        >
          Bring them in
        </Button>
        <Words small role="status">
          {done &&
            [
              `${codesOf(done.added)} brought in`,
              ...(done.twice > 0 ? [`${count(done.twice)} named twice`] : []),
              ...(done.here > 0 ? [`${count(done.here)} there already`] : []),
              ...(done.elsewhere > 0 ? [`${count(done.elsewhere)} left out: they stand in another list`] : []),
              ...(done.blank > 0 ? [`${count(done.blank)} blank`] : []),
              ...(done.wrong.length > 0 ? [`line ${done.wrong[0].line} is ${done.wrong[0].why}`] : []),
              ...(done.heading ? [`“${done.heading}” taken as a heading`] : []),
            ].join(', ')}
        </Words>
      </Row>
      <Trouble error={error} />
    </Column>
  );
}

/** Which code somebody got, and who got a code. */
function FindCode(): ReactNode {
  const { workspace, offset } = useDesk();
  const now = useNow(offset, 60_000);
  const [typed, setTyped] = useState('');
  const search = useSettled(typed.trim(), 200);
  const found = useGet(codesApi.find, search === '' ? undefined : { query: { search } }, { keep: true });
  const rows = search === '' ? [] : (found.data?.codes ?? []);
  return (
    <Column gap={4} line above={8}>
      <Search
        width={300}
        label="Find a code by itself, a number or a name"
        placeholder="Code, number or name"
        value={typed}
        onChange={setTyped}
      />
      <Trouble error={found.error} />
      {rows.map((each) => (
        <Row small between base key={`${each.list} ${each.code}`}>
          <b>{each.code}</b>
          {each.at === null ? (
            <Bit soft>not given to anybody</Bit>
          ) : (
            <Bit>
              {each.person_id === null ? (
                showPhone(each.number)
              ) : (
                <Way to={`/people/${each.person_id}`}>{each.name || 'no name'}</Way>
              )}
              {each.run_id !== null && (
                <>
                  , <Way to={`/runs/${each.run_id}`}>{each.run || 'no name'}</Way>
                </>
              )}
              , {when(each.at, workspace.zone, now)}
            </Bit>
          )}
        </Row>
      ))}
      {search !== '' && found.data && rows.length === 0 && (
        <Words soft small role="status">
          No code is that, or was given to them.
        </Words>
      )}
    </Column>
  );
}
