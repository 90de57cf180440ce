import { A_DOZEN } from './a-dozen';
import { Autocomplete, Button, TextField } from '@mui/material';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { broadcasts } from '../../core/api/sending/broadcasts';
import { people as peopleApi, type BulkAct } from '../../core/api/people/people';
import { useAct } from '../api/client';
import { useWork } from '../api/work';
import { Choose } from '../pieces/form/choices';
import { Field } from '../pieces/form/Field';
import { people } from '../pieces/format';
import { Row } from '../pieces/layout';
import { useSay } from '../pieces/Said';
import { Trouble } from '../pieces/small';
import { Way } from '../pieces/ways';
import type { Sources } from './sources';

type Kind = 'tag' | 'untag' | 'put_on' | 'take_off' | 'set';
/** So many can be written to as single people; more is what lists and tags are for. */
const MOST_WRITTEN = 200;

/** What to do with those who are chosen; done at once, told how many, and undone the same way. Stands where the headings stood. */
export function BulkBar({
  ids,
  n,
  total,
  filter,
  sources,
  clear,
  all,
}: {
  /** Nothing: everyone of the filter. */
  ids: readonly number[] | undefined;
  n: number;
  total: number;
  filter: Record<string, string>;
  sources: Sources | undefined;
  clear: () => void;
  all: () => void;
}) {
  const navigate = useNavigate();
  const say = useSay();
  const change = useAct(peopleApi.bulk);
  const undo = useAct(peopleApi.undoBulk);
  const make = useAct(broadcasts.make);
  const { work, busy, error } = useWork();
  const one = useOneAct(sources);
  const run = () =>
    void work(async () => {
      const done = await change({ body: { ...(ids ? { ids: [...ids] } : { filter }), act: one.act, what: one.what } });
      say(
        `${done.people === n ? '' : `Only ${people(done.people)} needed it: `}${one.what}, ${people(done.people)}.`,
        () => void work(() => undo({ params: { id: done.id } })),
      );
    });
  const write = () =>
    void work(async () => {
      const made = await make({ body: { name: '', people: [...(ids ?? [])] } });
      await navigate(n <= A_DOZEN ? `/broadcasts/${made.id}/short` : `/broadcasts/${made.id}`);
    });
  return (
    <Row role="group" aria-label="Change those chosen" gap={12}>
      <b>{people(n)} chosen</b>
      {ids && total > n && <Way onClick={all}>choose all {people(total)}</Way>}
      {ids && n <= MOST_WRITTEN && (
        <Button disabled={busy} onClick={write}>
          Write to {n}
        </Button>
      )}
      <OneAct one={one} />
      <Button variant="contained" disabled={busy || n === 0 || one.unsaid} onClick={run}>
        {busy ? 'Working…' : `Do it for ${people(n)}`}
      </Button>
      <Way onClick={clear}>choose nobody</Way>
      <Trouble error={error} />
    </Row>
  );
}

/** What is to be done with them, as it is chosen: the act, its words, and whether something is still to be said. */
function useOneAct(sources: Sources | undefined) {
  const [kind, setKind] = useState<Kind>('tag');
  const [name, setName] = useState('');
  const [target, setTarget] = useState('');
  const [value, setValue] = useState('');
  const fields = (sources?.fields ?? []).filter((field) => field.about === 'person');
  const tags = sources?.tags ?? [];
  const lists = sources?.lists ?? [];
  const among = kind === 'untag' ? tags : lists;
  const id = among.some((each) => String(each.id) === target) ? target : String(among[0]?.id ?? '');
  const field = fields.some((each) => each.slug === target) ? target : (fields[0]?.slug ?? '');
  const named = among.find((each) => String(each.id) === id)?.name ?? '';
  const typed = name.trim();
  const known = lists.find((each) => each.name === typed);
  const act: BulkAct =
    kind === 'tag'
      ? { kind, name: typed }
      : kind === 'set'
        ? { kind, field, value }
        : kind === 'put_on'
          ? known
            ? { kind, id: known.id }
            : { kind: 'put_on_new', name: typed }
          : { kind, id: Number(id) };
  const what =
    kind === 'tag'
      ? `tagged “${typed}”`
      : kind === 'untag'
        ? `took the tag “${named}”`
        : kind === 'put_on'
          ? `put on “${typed}”`
          : kind === 'take_off'
            ? `took off “${named}”`
            : `set ${fields.find((each) => each.slug === field)?.label ?? ''} to “${value}”`;
  const unsaid = kind === 'tag' || kind === 'put_on' ? typed === '' : kind === 'set' ? field === '' : id === '';
  return { kind, setKind, id, among, setTarget, field, fields, tags, lists, name, setName, value, setValue, act, what, unsaid };
}

/** What is done with them, and with what. */
function OneAct({ one }: { one: ReturnType<typeof useOneAct> }) {
  const { kind, setKind, id, among, setTarget, field, fields, tags, lists, name, setName, value, setValue } = one;
  return (
    <Row gap={6} nowrap>
      <Choose
        label="What to do with them"
        value={kind}
        options={[
          ['tag', 'tag'],
          ['untag', 'take the tag'],
          ['put_on', 'put on list'],
          ['take_off', 'take off list'],
          ['set', 'set field'],
        ]}
        onChange={setKind}
      />
      {(kind === 'untag' || kind === 'take_off') && (
        <Choose
          label="Which"
          value={id}
          options={among.map((each) => [String(each.id), each.name] as const)}
          onChange={setTarget}
        />
      )}
      {kind === 'set' && (
        <Choose
          label="Field"
          value={field}
          options={fields.map((each) => [each.slug, each.label] as const)}
          onChange={setTarget}
        />
      )}
      {(kind === 'tag' || kind === 'put_on') && (
        <Autocomplete
          freeSolo
          options={(kind === 'tag' ? tags : lists).map((each) => each.name)}
          inputValue={name}
          onInputChange={(_event, next) => setName(next)}
          renderInput={(params) => (
            <Row width={190}>
              <TextField
                {...params}
                hiddenLabel
                placeholder={kind === 'tag' ? 'a tag, or a new one' : 'a list, or a new one'}
                slotProps={{
                  ...params.slotProps,
                  htmlInput: { ...params.slotProps.htmlInput, 'aria-label': kind === 'tag' ? 'Tag' : 'List' },
                }}
              />
            </Row>
          )}
        />
      )}
      {kind === 'set' && (
        <Row width={140}>
          <Field label="Value" placeholder="empty" value={value} onChange={setValue} />
        </Row>
      )}
    </Row>
  );
}
