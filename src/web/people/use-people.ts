import { useCallback, useMemo, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { people as peopleApi, type PeopleQuery, type Sources } from '../../core/api/people/people';

import { EVERYONE, type Group } from '../../core/audience/condition';
import { OUTCOME_WORDS, RUN_OUTCOMES } from '../../core/outcome/outcomes';
import { useGet } from '../api/client';
import { useSettled } from '../pieces/small';
import type { Chosen } from '../pieces/table/DataTable';
import { inOrder } from '../pieces/table/table-column';
import { useTableLayout } from '../pieces/table/table-layout';
import { columnsOf, hiddenAtFirst } from './columns';
import { asGroup, whole } from './rules/SegmentBar';

export const NOBODY: Chosen = { all: false, ids: new Set() };

/** Where one is among people: a list, a tag, a segment, those of a run; what is typed and edited there, and how many they are. */
export function usePeople() {
  const navigate = useNavigate();
  const { id } = useParams();
  const [params] = useSearchParams();
  const [typed, setTyped] = useState(params.get('search') ?? '');
  const [edited, setEdited] = useState<{ at: string; rule: Group }>();
  const [chosen, setChosen] = useState<Chosen>(NOBODY);
  const search = useSettled(typed, 200);
  const looked = useGet(peopleApi.sources, {}, { keep: true });
  const sources = looked.data;
  const [list, tag, segment, cannot] = ['list', 'tag', 'segment', 'cannot'].map((key) => params.get(key) ?? '');
  // those of a run, by what became of their text and why
  const [run, outcome, reason] = ['run', 'outcome', 'reason'].map((key) => params.get(key) ?? '');
  const place = `${list}|${tag}|${segment}|${cannot}|${run}|${outcome}|${reason}`;
  const kept = sources?.segments.find((each) => String(each.id) === segment);
  // a rule that is being edited is only of the place where that began
  const rule: Group | undefined =
    edited?.at === place ? edited.rule : segment === 'new' ? EVERYONE : kept ? asGroup(kept.rule) : undefined;
  const changed = edited?.at === place && JSON.stringify(edited.rule) !== JSON.stringify(kept ? asGroup(kept.rule) : EVERYONE);
  const settledRule = useSettled(changed ? JSON.stringify(whole(rule ?? EVERYONE)) : '', 250);
  const filter: PeopleQuery & Record<string, string> = Object.fromEntries(
    Object.entries({
      search,
      list,
      tag,
      cannot,
      run,
      outcome,
      reason,
      segment: settledRule !== '' || segment === 'new' ? '' : segment,
      rule: settledRule,
    }).filter(([, value]) => value !== ''),
  );
  const counting = useGet(peopleApi.count, { query: filter }, { keep: true });
  // while another filter is counted, what stands is of the one before, and is not said to be of this
  const counted = counting.isPlaceholderData ? undefined : counting.data;
  const total = counted?.people;
  const open = id !== undefined;
  const inPlace = new URLSearchParams(
    Object.entries({ list, tag, segment, cannot, run, outcome, reason }).filter(([, value]) => value !== ''),
  ).toString();
  const linkTo = useCallback((one: number) => `/people/${one}${inPlace ? `?${inPlace}` : ''}`, [inPlace]);
  const fields = useMemo(() => sources?.fields ?? [], [sources?.fields]);
  const hidden = useMemo(() => hiddenAtFirst(fields), [fields]);
  const layout = useTableLayout('people', { hidden });
  const columns = useMemo(() => columnsOf(fields, linkTo), [fields, linkTo]);
  const columnsShown = inOrder(columns, layout.order)
    .map((column) => column.key)
    .filter((key) => !layout.hidden.includes(key))
    .join(',');
  // beside an open person there is room for three
  const beside = useMemo(
    () => (open ? columns.filter((column) => ['name', 'number', 'reach'].includes(column.key)) : columns),
    [open, columns],
  );
  const go = (next: Record<string, string>) => {
    setChosen(NOBODY);
    void navigate(`/people?${new URLSearchParams(next).toString()}`);
  };
  return {
    id,
    open,
    params,
    typed,
    setTyped,
    search,
    in: { list, tag, segment, cannot },
    place,
    inPlace,
    title: titleOf({ list, tag, segment, cannot, run, outcome, reason }, sources),
    kept,
    rule,
    changed,
    edit: (next: Group | undefined) => setEdited(next && { at: place, rule: next }),
    filter,
    counted,
    total,
    sources,
    /** Why there are no sources. */
    unlooked: looked.error,
    columns,
    /** Those that there is room for beside an open person. */
    beside,
    columnsShown,
    layout,
    chosen,
    setChosen,
    linkTo,
    go,
  };
}

/** What the place is called; undefined while that is not known. */
function titleOf(
  { list, tag, segment, cannot, run, outcome, reason }: Readonly<Record<string, string>>,
  sources: Sources | undefined,
): string | undefined {
  if (list) return sources?.lists.find((each) => String(each.id) === list)?.name;
  if (tag) return sources?.tags.find((each) => String(each.id) === tag)?.name;
  if (segment === 'new') return 'New segment';
  if (segment) return sources?.segments.find((each) => String(each.id) === segment)?.name;
  if (run)
    return [OUTCOME_WORDS[RUN_OUTCOMES.find((each) => each === outcome) ?? 'left'], reason].filter((words) => words).join(': ');
  return cannot ? 'Cannot be texted' : 'Everyone';
}
