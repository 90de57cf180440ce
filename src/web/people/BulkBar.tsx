import { Button } from '@mui/material';
import { useState } from 'react';
import { send } from '../api/client';
import { people } from '../pieces/format';
import { Choose, Trouble } from '../pieces/small';
import type { Sources } from './sources';

type Kind = 'tag' | 'untag' | 'put_on' | 'take_off' | 'set';

/** What to do with those who are chosen; done at once, told how many, and undone the same way. */
export function BulkBar({
  picked,
  total,
  filter,
  sources,
  clear,
  all,
}: {
  picked: ReadonlySet<number> | 'all';
  total: number;
  filter: Record<string, string>;
  sources: Sources | undefined;
  clear: () => void;
  all: () => void;
}) {
  const [kind, setKind] = useState<Kind>('tag');
  const [target, setTarget] = useState('');
  const [value, setValue] = useState('');
  const [done, setDone] = useState<{ id: number; people: number; what: string }>();
  const [error, setError] = useState<unknown>();
  const [busy, setBusy] = useState(false);
  const n = picked === 'all' ? total : picked.size;
  const fields = (sources?.fields ?? []).filter((field) => field.about === 'person');
  const among = kind === 'untag' ? (sources?.tags ?? []) : (sources?.lists ?? []);
  const id = among.some((each) => String(each.id) === target) ? target : String(among[0]?.id ?? '');
  const field = fields.some((each) => each.slug === target) ? target : (fields[0]?.slug ?? '');
  const named = among.find((each) => String(each.id) === id)?.name ?? '';
  const what =
    kind === 'tag'
      ? `tagged “${value}”`
      : kind === 'untag'
        ? `took the tag “${named}”`
        : kind === 'put_on'
          ? `put on “${named}”`
          : kind === 'take_off'
            ? `took off “${named}”`
            : `set ${fields.find((each) => each.slug === field)?.label ?? ''} to “${value}”`;
  const act = kind === 'tag' ? { kind, name: value.trim() } : kind === 'set' ? { kind, field, value } : { kind, id: Number(id) };
  const run = async () => {
    setBusy(true);
    setError(undefined);
    try {
      const answer = await send<{ id: number; people: number }>('POST', '/api/people/bulk', {
        ...(picked === 'all' ? { filter } : { ids: [...picked] }),
        act,
        what,
      });
      setDone({ ...answer, what });
    } catch (refused) {
      setError(refused);
    } finally {
      setBusy(false);
    }
  };
  const undo = async () => {
    if (!done) return;
    setBusy(true);
    try {
      await send('POST', `/api/people/bulk/${done.id}/undo`);
      setDone(undefined);
    } catch (refused) {
      setError(refused);
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="bulk" role="group" aria-label="Change those chosen">
      <b>{people(n)} chosen</b>
      {picked !== 'all' && total > picked.size && (
        <button type="button" className="way" onClick={all}>
          choose all {people(total)}
        </button>
      )}
      <span>
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
        />{' '}
        {(kind === 'untag' || kind === 'put_on' || kind === 'take_off') && (
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
        )}{' '}
        {(kind === 'tag' || kind === 'set') && (
          <input
            className="field"
            aria-label={kind === 'tag' ? 'Tag' : 'Value'}
            placeholder={kind === 'tag' ? 'bicycle' : 'empty'}
            list={kind === 'tag' ? 'bulk-tags' : undefined}
            value={value}
            onChange={(event) => setValue(event.target.value)}
            style={{ width: 140 }}
          />
        )}
        <datalist id="bulk-tags">
          {(sources?.tags ?? []).map((tag) => (
            <option key={tag.id} value={tag.name} />
          ))}
        </datalist>
      </span>
      <Button
        variant="contained"
        disabled={busy || n === 0 || (kind === 'tag' && value.trim() === '') || (kind !== 'tag' && kind !== 'set' && id === '')}
        onClick={() => void run()}
      >
        {busy ? 'Working…' : `Do it for ${people(n)}`}
      </Button>
      <button type="button" className="way" onClick={clear}>
        choose nobody
      </button>
      <span role="status" className="small">
        {done && (
          <>
            {done.people === n ? '' : `Only ${people(done.people)} needed it: `}
            {done.what}, {people(done.people)}.{' '}
            <button type="button" className="way" onClick={() => void undo()}>
              Undo
            </button>
          </>
        )}
      </span>
      <Trouble error={error} />
    </div>
  );
}
