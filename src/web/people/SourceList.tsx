import { Button } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { send, useGet } from '../api/client';
import { count } from '../pieces/format';
import { Trouble } from '../pieces/small';
import type { Sources } from './sources';

/** Where people can be looked for, each with its count: everyone, segments, lists, tags. */
export function SourceList({
  sources,
  params,
  go,
  dependants = false,
}: {
  sources: Sources | undefined;
  params: URLSearchParams;
  go: (next: Record<string, string>) => void;
  /** The dependants are what is shown. */
  dependants?: boolean;
}) {
  // on a phone the sources are folded away, so that the people come first
  const [folded, setFolded] = useState(true);
  // segments are counted apart: each is a question over everyone
  const counted = useGet<{ segments: { id: number; people: number }[] }>('/api/segments', { keep: true }).data?.segments;
  const [adding, setAdding] = useState<'list' | 'tag'>();
  const [name, setName] = useState('');
  const [error, setError] = useState<unknown>();
  const [list, tag, segment, cannot] = ['list', 'tag', 'segment', 'cannot'].map((key) => params.get(key) ?? '');
  const choose = (next: Record<string, string>) => {
    setFolded(true);
    go(next);
  };
  const source = (words: string, n: number | undefined, next: Record<string, string>, on: boolean, extra = '') => (
    <button
      key={Object.entries(next).join()}
      type="button"
      className={`source ${on ? 'on' : ''} ${extra}`}
      aria-pressed={on}
      onClick={() => choose(next)}
    >
      <span>{words}</span>
      <span className="n">{n === undefined ? '' : count(n)}</span>
    </button>
  );
  const add = async () => {
    try {
      const made = await send<{ id: number }>('POST', `/api/${adding}s`, { name });
      setAdding(undefined);
      setName('');
      setError(undefined);
      go({ [adding ?? 'list']: String(made.id) });
    } catch (refused) {
      setError(refused);
    }
  };
  const title = (words: string, kind: 'list' | 'tag') => (
    <>
      <div className="row between" style={{ padding: '14px 8px 4px' }}>
        <h3>{words}</h3>
        <Button aria-label={`New ${kind}`} onClick={() => setAdding(adding === kind ? undefined : kind)}>
          New
        </Button>
      </div>
      {adding === kind && (
        <form className="row nowrap" style={{ padding: '2px 8px' }} onSubmit={(event) => (event.preventDefault(), void add())}>
          <input
            className="field grow"
            aria-label={`Name of the new ${kind}`}
            autoFocus
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" disabled={name.trim() === ''}>
            Add
          </Button>
        </form>
      )}
    </>
  );
  return (
    <aside className="pane" style={{ padding: '14px 8px' }} aria-label="Sources">
      <div className="row between" style={{ padding: '0 8px 6px' }}>
        <h2>People</h2>
        <span className="fig hide-small">{count(sources?.everyone ?? 0)}</span>
        <span className="only-small">
          <Button aria-expanded={!folded} onClick={() => setFolded(!folded)}>
            {folded ? 'Segments, lists, tags' : 'Fold away'}
          </Button>
        </span>
      </div>
      <div className={folded ? 'hide-small' : ''}>
        {source('Everyone', sources?.everyone ?? 0, {}, !list && !tag && !cannot && !segment && !dependants)}
        {source('Cannot be texted', sources?.cannot ?? 0, { cannot: '1' }, cannot === '1', cannot ? '' : 'brick')}
        <Link
          className={`source ${dependants ? 'on' : ''}`}
          to="/people/dependants"
          aria-current={dependants ? 'page' : undefined}
        >
          <span>Dependants</span>
        </Link>
        <Trouble error={error} />
        <div className="row between" style={{ padding: '14px 8px 4px' }}>
          <h3>Segments</h3>
          <Button aria-label="New segment" onClick={() => go({ segment: 'new' })}>
            New
          </Button>
        </div>
        {(sources?.segments ?? []).map((each) =>
          source(
            each.name,
            counted?.find((one) => one.id === each.id)?.people,
            { segment: String(each.id) },
            segment === String(each.id),
          ),
        )}
        {title('Lists', 'list')}
        {(sources?.lists ?? []).map((each) =>
          source(each.name, each.people, { list: String(each.id) }, list === String(each.id)),
        )}
        {title('Tags', 'tag')}
        {(sources?.tags ?? []).map((each) => source(each.name, each.people, { tag: String(each.id) }, tag === String(each.id)))}
        <div style={{ padding: '16px 8px 0' }}>
          <Button fullWidth component={Link} to="/people/bring-in" size="medium">
            Bring in people
          </Button>
        </div>
      </div>
    </aside>
  );
}
