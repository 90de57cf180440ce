import { Button } from '@mui/material';
import { people as peopleApi } from '../../core/api/people/people';
import { mayDo } from '../../core/api/roles';
import { EVERYONE } from '../../core/audience/condition';
import { fileAt } from '../api/client';
import { useDesk } from '../api/session';
import { count } from '../pieces/format';
import { Search } from '../pieces/form/Search';
import { Bit, End, Head, Row, Words } from '../pieces/layout';
import { ExportMenu } from '../pieces/table/ExportMenu';
import { ColumnsMenu } from '../pieces/table/ColumnsMenu';
import { LatestChange } from './LatestChange';
import { LookUp } from './LookUp';
import { ListRule, Rename } from './Rename';
import type { usePeople } from './use-people';

type Here = ReturnType<typeof usePeople>;
const EXPORTS = [
  [peopleApi.exportCsv, 'these columns, CSV', true],
  [peopleApi.exportXlsx, 'these columns, workbook (XLSX)', true],
  [peopleApi.exportCsv, 'to bring in again, CSV', false],
  [peopleApi.exportXlsx, 'to bring in again, workbook (XLSX)', false],
  [peopleApi.exportVcf, 'vCard', false],
] as const;

/** Where one is, what is found there, and what can be done with all of them. */
export function PeopleHead({ here, write, add }: { here: Here; write: () => void; add: () => void }) {
  const { account } = useDesk();
  const { open, title, typed, setTyped, total, rule, changed, columns, layout, filter, columnsShown } = here;
  const { list, segment } = here.in;
  const mayWrite = mayDo(account.role, 'write');
  return (
    <>
      <Head within>
        <Words as="h1" cut>
          {title ?? '…'}
        </Words>
        <End>
          <Search
            width={open ? 170 : 200}
            label="Find by name, number or reference"
            placeholder={open ? 'Name, number…' : 'Name, number, reference'}
            value={typed}
            onChange={setTyped}
          />
          {mayWrite && (list || (segment && segment !== 'new' && !changed)) && (
            <Button variant="contained" onClick={write}>
              {total === undefined ? 'Write to them' : `Write to ${count(total)}`}
            </Button>
          )}
          {!open && (
            <>
              {rule === undefined && <Button onClick={() => here.edit(EVERYONE)}>Filter</Button>}
              {mayWrite && <Button onClick={add}>Add a person</Button>}
              <ExportMenu
                says={total === undefined ? 'Export' : `Export ${count(total)}`}
                files={EXPORTS.map(([endpoint, words, shown]) => ({
                  words,
                  href: fileAt(endpoint, { query: { ...filter, name: title, ...(shown ? { columns: columnsShown } : {}) } }),
                }))}
              />
              <ColumnsMenu columns={columns} layout={layout} />
            </>
          )}
        </End>
      </Head>
    </>
  );
}

/** How many they are, and what can be done with the place itself. */
export function PeopleCounts({ here, attempt }: { here: Here; attempt: (what: () => Promise<unknown>) => Promise<void> }) {
  const { account } = useDesk();
  const { place, title, counted, total, sources, filter, go } = here;
  const { list, tag, cannot } = here.in;
  const mayWrite = mayDo(account.role, 'write');
  return (
    <Row small pad="0 18px 4px" gap={12}>
      <Bit soft role="status">
        {counted === undefined ? 'counting…' : `${count(counted.people)}${cannot ? '' : `, ${count(counted.can)} can be texted`}`}
      </Bit>
      {mayWrite && list && (
        <>
          <Rename key={place} kind="list" id={list} name={title ?? ''} attempt={attempt} gone={() => go({})} />
          <ListRule
            id={list}
            rule={sources?.lists.find((each) => String(each.id) === list)?.leave_after ?? null}
            attempt={attempt}
          />
        </>
      )}
      {mayWrite && tag && <Rename key={place} kind="tag" id={tag} name={title ?? ''} attempt={attempt} gone={() => go({})} />}
      {mayDo(account.role, 'send') && total !== undefined && total > 0 && <LookUp key={JSON.stringify(filter)} filter={filter} />}
      <LatestChange />
    </Row>
  );
}
