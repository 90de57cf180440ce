import { Button } from '@mui/material';
import { styled, type Theme } from '@mui/material/styles';
import { useState } from 'react';
import { Link } from 'react-router';
import { groups, segments } from '../../core/api/people/groups';
import { mayDo } from '../../core/api/roles';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { Field } from '../pieces/form/Field';
import { count } from '../pieces/format';
import { Bit, Pane, Row, Words } from '../pieces/layout';
import { Trouble } from '../pieces/small';
import { Pressed } from '../pieces/ways';
import type { Sources } from './sources';

interface SourceLooks {
  on: boolean;
  trouble?: boolean;
}
const looks = ({ theme, on, trouble }: SourceLooks & { theme: Theme }) => ({
  display: 'flex',
  justifyContent: 'space-between',
  gap: 8,
  width: '100%',
  padding: '4px 8px',
  borderRadius: 3,
  textDecoration: 'none',
  color: on ? theme.bell.onFrame : trouble ? theme.bell.brick : theme.bell.ink,
  background: on ? theme.bell.frame : 'none',
  '& > span + span': { color: on ? theme.bell.frameSoft : theme.bell.soft },
  '&:hover': { background: on ? theme.bell.frame : theme.bell.card },
});
const plain = { shouldForwardProp: (name: PropertyKey) => name !== 'on' && name !== 'trouble' };
const Source = styled(Pressed, plain)<SourceLooks>(looks);
const SourceLink = styled(Link, plain)<SourceLooks>(looks);

/** Where people can be looked for, each with its count: everyone, segments, lists, tags. */
export function SourceList({
  sources,
  error: unlooked,
  params,
  go,
  dependants = false,
}: {
  sources: Sources | undefined;
  /** Why there are none. */
  error: unknown;
  params: URLSearchParams;
  go: (next: Record<string, string>) => void;
  /** The dependants are what is shown. */
  dependants?: boolean;
}) {
  const { account } = useDesk();
  const mayWrite = mayDo(account.role, 'write');
  // on a phone the sources are folded away, so that the people come first
  const [folded, setFolded] = useState(true);
  // segments are counted apart: each is a question over everyone
  const counted = useGet(segments.list, {}, { keep: true }).data?.segments;
  const make = { list: useAct(groups.list.make), tag: useAct(groups.tag.make) };
  const [adding, setAdding] = useState<'list' | 'tag'>();
  const [name, setName] = useState('');
  const { work, error } = useWork();
  const [list, tag, segment, cannot] = ['list', 'tag', 'segment', 'cannot'].map((key) => params.get(key) ?? '');
  const choose = (next: Record<string, string>) => {
    setFolded(true);
    go(next);
  };
  const source = (words: string, n: number | undefined, next: Record<string, string>, on: boolean, trouble = false) => (
    <Source key={Object.entries(next).join()} on={on} trouble={trouble} aria-pressed={on} onClick={() => choose(next)}>
      <span>{words}</span>
      <span>{n === undefined ? '…' : count(n)}</span>
    </Source>
  );
  const add = () =>
    void work(async () => {
      if (!adding) return;
      const { id } = await make[adding]({ body: { name } });
      setAdding(undefined);
      setName('');
      go({ [adding]: String(id) });
    });
  const title = (words: string, kind: 'list' | 'tag') => (
    <>
      <Row between pad="14px 8px 4px">
        <h3>{words}</h3>
        {mayWrite && (
          <Button aria-label={`New ${kind}`} onClick={() => setAdding(adding === kind ? undefined : kind)}>
            New
          </Button>
        )}
      </Row>
      {adding === kind && (
        <Row
          as="form"
          nowrap
          pad="2px 8px"
          onSubmit={(event: React.FormEvent) => {
            event.preventDefault();
            add();
          }}
        >
          <Field label={`Name of the new ${kind}`} autoFocus value={name} onChange={setName} />
          <Button type="submit" disabled={name.trim() === ''}>
            Add
          </Button>
        </Row>
      )}
    </>
  );
  return (
    <Pane as="aside" pad="14px 8px" aria-label="Sources">
      <Row between pad="0 8px 6px">
        <h2>People</h2>
        <Bit fig wideOnly>
          {sources ? count(sources.everyone) : '…'}
        </Bit>
        <Bit smallOnly>
          <Button aria-expanded={!folded} onClick={() => setFolded(!folded)}>
            {folded ? 'Segments, lists, tags' : 'Fold away'}
          </Button>
        </Bit>
      </Row>
      <Trouble error={unlooked} />
      <Words wideOnly={folded}>
        {source('Everyone', sources?.everyone, {}, !list && !tag && !cannot && !segment && !dependants)}
        {source('Cannot be texted', sources?.cannot, { cannot: '1' }, cannot === '1', cannot === '')}
        <SourceLink on={dependants} to="/people/dependants" aria-current={dependants ? 'page' : undefined}>
          <span>Dependants</span>
        </SourceLink>
        {/* before what is loaded: nothing that comes late moves it */}
        {mayWrite && (
          <Words pad="8px 8px 0">
            <Button fullWidth component={Link} to="/people/bring-in" size="medium">
              Bring in people
            </Button>
          </Words>
        )}
        <Trouble error={error} />
        {sources && (
          <>
            <Segments mayWrite={mayWrite} go={go} sources={sources} source={source} counted={counted} segment={segment} />
            {title('Lists', 'list')}
            {sources.lists.map((each) => source(each.name, each.people, { list: String(each.id) }, list === String(each.id)))}
            {title('Tags', 'tag')}
            {sources.tags.map((each) => source(each.name, each.people, { tag: String(each.id) }, tag === String(each.id)))}
          </>
        )}
      </Words>
    </Pane>
  );
}

/** Segments with how many fit them, and the way to a new one. */
function Segments({
  mayWrite,
  go,
  sources,
  source,
  counted,
  segment,
}: {
  mayWrite: boolean;
  go: (next: Record<string, string>) => void;
  sources: Sources;
  source: (
    words: string,
    n: number | undefined,
    next: Record<string, string>,
    on: boolean,
    trouble?: boolean,
  ) => React.JSX.Element;
  counted: readonly { id: number; people: number }[] | undefined;
  segment: string;
}) {
  return (
    <>
      <Row between pad="14px 8px 4px">
        <h3>Segments</h3>
        {mayWrite && (
          <Button aria-label="New segment" onClick={() => go({ segment: 'new' })}>
            New
          </Button>
        )}
      </Row>
      {sources.segments.map((each) =>
        source(
          each.name,
          counted?.find((one) => one.id === each.id)?.people,
          { segment: String(each.id) },
          segment === String(each.id),
        ),
      )}
    </>
  );
}
