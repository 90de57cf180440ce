import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { broadcasts } from '../../core/api/sending/broadcasts';
import { mayDo } from '../../core/api/roles';
import { useAct } from '../api/client';
import { useDesk } from '../api/session';
import { useWork } from '../api/work';
import { useAskedFor } from '../pieces/address';
import type { Sorting } from '../pieces/table/DataTable';
import { Column, Pane, Panes } from '../pieces/layout';
import { Trouble, useTitle, Waiting } from '../pieces/small';
import { BulkBar } from './BulkBar';
import { Nobody } from './Nobody';
import { PeopleCounts, PeopleHead } from './PeopleHead';
import { PeopleTable } from './PeopleTable';
import { PersonForm } from './person/PersonForm';
import { PersonPanel } from './person/PersonPanel';
import { RuleEditor } from './rules/RuleEditor';
import { SegmentBar, whole } from './rules/SegmentBar';
import { SourceList } from './SourceList';
import { NOBODY, usePeople } from './use-people';

const Rule = styled('div')({ padding: '2px 18px 0' });

/** Sources left with their counts, one hairline table, a person beside it; a rule in sentences above the table. */
export default function People() {
  useTitle('People');
  const { account } = useDesk();
  const navigate = useNavigate();
  const [adding, setAdding] = useState(false);
  useAskedFor('add', () => setAdding(true));
  const [sorting, setSorting] = useState<Sorting>({ by: 'name', down: false });
  const { work, error } = useWork();
  const make = useAct(broadcasts.make);
  const here = usePeople();
  const { id, open, params, place, inPlace, kept, rule, changed, filter, counted, total, sources, beside, layout } = here;
  const { chosen, setChosen, linkTo, go } = here;
  const { list, segment } = here.in;
  const mayWrite = mayDo(account.role, 'write');
  const attempt = async (what: () => Promise<unknown>) => {
    await work(what);
  };
  const write = () =>
    void work(async () => {
      const made = await make({
        body: { name: '', ...(list ? { list_id: Number(list) } : segment ? { segment_id: Number(segment) } : {}) },
      });
      await navigate(`/broadcasts/${made.id}`);
    });
  // everyone but some: not a filter the server knows, so those few are named when all are chosen
  const everyone = chosen.all && chosen.ids.size === 0;
  const ids = chosen.all ? undefined : [...chosen.ids];
  // the rule stands above the table, and would push it away from under a press if it came after it
  const waits = segment !== '' && !sources && !here.unlooked;
  const howMany = chosen.all ? (total ?? 0) : chosen.ids.size;
  return (
    <Panes opened={open} columns={open ? '214px minmax(0, 1fr) 380px' : '214px minmax(0, 1fr)'}>
      <SourceList sources={sources} error={here.unlooked} params={params} go={go} />
      <Pane as="section" fill aria-label="People">
        <PeopleHead here={here} write={write} add={() => setAdding(true)} />
        {!open && <PeopleCounts here={here} attempt={attempt} />}
        {waits && <Waiting what="Looking for the segment…" />}
        {rule && !waits && (
          <Rule>
            <RuleEditor
              key={segment}
              begins={segment === 'new' && rule.of.length === 0}
              rule={rule}
              change={here.edit}
              sources={sources}
              about="person"
              lead="Everyone for whom"
            />
            <SegmentBar
              key={place}
              segment={segment}
              kept={kept}
              rule={rule}
              changed={changed || segment === 'new'}
              counted={counted}
              attempt={attempt}
              leave={() => here.edit(undefined)}
              saved={(made) => {
                here.edit(undefined);
                go(made === undefined ? {} : { segment: String(made) });
              }}
            />
          </Rule>
        )}
        <Trouble error={error} />
        {!waits && (
          <Column grow pad="0 18px" gap={0}>
            <PeopleTable
              filter={filter}
              columns={beside}
              layout={layout}
              openId={id}
              empty={<Nobody here={here} add={mayWrite ? () => setAdding(true) : undefined} />}
              sorting={sorting}
              sort={setSorting}
              chosen={chosen}
              choose={setChosen}
              instead={
                mayWrite && (
                  <BulkBar
                    ids={everyone ? undefined : (ids ?? [])}
                    n={howMany}
                    total={total ?? 0}
                    filter={filter}
                    sources={sources}
                    clear={() => setChosen(NOBODY)}
                    all={() => setChosen({ all: true, ids: new Set() })}
                  />
                )
              }
              linkTo={linkTo}
            />
          </Column>
        )}
      </Pane>
      {open && (
        <PersonPanel
          key={id}
          id={Number(id)}
          sources={sources}
          rule={rule ? whole(rule) : undefined}
          close={() => void navigate(`/people?${inPlace}`)}
        />
      )}
      {adding && <PersonForm sources={sources} close={() => setAdding(false)} />}
    </Panes>
  );
}
