import { Autocomplete, Button, TextField } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { people } from '../../../core/api/people/people';
import { outcomes } from '../../../core/api/sending/outcomes';
import { OUTCOME_WORDS, type RunOutcome } from '../../../core/outcome/outcomes';
import { fold } from '../../../core/text/fold';
import type { Source } from '../../../core/plan/draft/draft';
import { useGet } from '../../api/client';
import { useDesk } from '../../api/session';
import { type Sources, nameOf } from '../../people/for-others';
import { count, dayOf } from '../../pieces/format';
import { InFlow, Steady } from '../../pieces/InFlow';
import { Row } from '../../pieces/layout';
import { showPhone } from '../../pieces/phone';
import { useSettled } from '../../pieces/small';
import { keepsChosen, optionGroup, tickedOption } from '../../pieces/form/offered';
import { SmallWindow } from '../../pieces/SmallWindow';

interface Choosable {
  group: string;
  words: string;
  more: string;
  source: Source;
}

const same = (a: Source, b: Source) =>
  a.kind === b.kind &&
  ('id' in a && 'id' in b ? a.id === b.id : !('id' in a)) &&
  (a.kind !== 'run' || b.kind !== 'run' || (a.outcome === b.outcome && a.words === b.words && a.choice?.n === b.choice?.n));

/** What is asked most often of a run that went. */
const ASKED: readonly RunOutcome[] = ['not_delivered', 'not_answered', 'answered', 'clicked', 'not_clicked', 'delivered'];
const RUNS = 6;
const LATEST = 2;

/** What can be chosen and fits what is typed; people and earlier broadcasts are found by the server. */
function useChoosable(
  side: 'to' | 'leave_out',
  typed: string,
  sources: Sources | undefined,
  counted: readonly { id: number; people: number }[] | undefined,
): Choosable[] | undefined {
  const { workspace } = useDesk();
  const search = useSettled(typed, 150);
  const found = useGet(people.list, search.length >= 2 ? { query: { search } } : undefined, { keep: true }).data?.people ?? [];
  const fits = (words: string) => fold(words).includes(fold(typed));
  const numbered = (n: number | undefined) => (n === undefined ? 'counting…' : count(n));
  const options: Choosable[] = [
    ...(side === 'to'
      ? [{ group: 'Everyone', words: 'Everyone', more: numbered(sources?.everyone), source: { kind: 'everyone' } as const }]
      : [{ group: 'Numbers', words: 'Numbers that did not exist before', more: '', source: { kind: 'unreachable' } as const }]),
    ...(sources?.segments ?? []).map((each) => ({
      group: 'Segments',
      words: each.name,
      more: numbered(counted?.find((one) => one.id === each.id)?.people),
      source: { kind: 'segment', id: each.id } as const,
    })),
    ...(sources?.lists ?? []).map((each) => ({
      group: 'Lists',
      words: each.name,
      more: count(each.people),
      source: { kind: 'list', id: each.id } as const,
    })),
    ...(sources?.tags ?? []).map((each) => ({
      group: 'Tags',
      words: each.name,
      more: count(each.people),
      source: { kind: 'tag', id: each.id } as const,
    })),
  ].filter((each) => fits(each.words));
  // the latest are there to be seen; any other is found by typing
  const asked = search.length >= 2 ? { query: { search } } : typed === '' ? { query: {} } : undefined;
  const latest = useGet(outcomes.list, asked, { keep: true });
  const sent = latest.data?.runs ?? [];
  // what comes late would make the list longer, and jump under a press: it opens when all of it is there
  if (asked && latest.isLoading) return undefined;
  if (asked)
    options.push(
      ...sent
        .filter((run) => fits(run.name))
        .slice(0, typed === '' ? LATEST : RUNS)
        .flatMap((run) => {
          const name = `${run.name}, ${dayOf(run.due_at, workspace.zone)}`;
          return ASKED.map((outcome) => ({
            group: 'Earlier broadcasts',
            words: `${name}: ${OUTCOME_WORDS[outcome]}`,
            more: '',
            source: { kind: 'run', id: run.id, outcome, name: name.slice(0, 160) } as const,
          }));
        }),
    );
  if (search.length >= 2)
    options.push(
      ...found.slice(0, 12).map((person) => ({
        group: 'People',
        words: nameOf(person),
        more: person.number ? showPhone(person.number) : 'no text number',
        source: { kind: 'person', id: person.id } as const,
      })),
    );
  return options;
}

const NONE: Choosable[] = [];

/** Everything that can be chosen, found by typing; several at once, each pressed again to take it away. */
export function AudiencePicker({
  anchor,
  side,
  chosen,
  sources,
  counted,
  change,
  paste,
  fileAt,
  close,
}: {
  anchor: HTMLElement;
  side: 'to' | 'leave_out';
  chosen: readonly Source[];
  sources: Sources | undefined;
  counted: readonly { id: number; people: number }[] | undefined;
  change: (sources: Source[]) => void;
  /** Numbers are pasted elsewhere; left out where there is no place for them. */
  paste?: () => void;
  /** Where a file is brought in for it; left out where there is no place for one. */
  fileAt?: string;
  close: () => void;
}) {
  const [typed, setTyped] = useState('');
  const choosable = useChoosable(side, typed.trim(), sources, counted);
  const options = choosable ?? NONE;
  const is = (option: Choosable) => chosen.some((each) => same(each, option.source));
  return (
    <SmallWindow
      label={side === 'to' ? 'Add to this broadcast' : 'Leave out of this broadcast'}
      at={anchor}
      close={close}
      width={360}
    >
      <Steady>
        <Autocomplete<Choosable, true, true, false>
          open
          multiple
          disablePortal
          disableCloseOnSelect
          disableClearable
          options={options}
          value={options.filter(is)}
          groupBy={(option) => option.group}
          renderGroup={optionGroup}
          getOptionLabel={(option) => option.words}
          getOptionKey={(option) => JSON.stringify(option.source)}
          isOptionEqualToValue={(a, b) => same(a.source, b.source)}
          // what fits is decided above, and by the server for people
          filterOptions={(all) => all}
          inputValue={typed}
          onInputChange={(_event, words, reason) => reason === 'input' && setTyped(words)}
          onChange={(_event, _all, _reason, detail) => {
            const option = detail?.option;
            if (!option) return;
            change(is(option) ? chosen.filter((each) => !same(each, option.source)) : [...chosen, option.source]);
          }}
          onKeyDown={keepsChosen(close)}
          renderValue={() => null}
          autoHighlight
          noOptionsText={choosable ? 'Nothing of that name.' : 'Looking…'}
          renderInput={(params) => (
            <TextField
              {...params}
              autoFocus
              label={side === 'to' ? 'Add' : 'Leave out'}
              placeholder="list, segment, tag, person…"
            />
          )}
          renderOption={(props, option, { selected }) =>
            tickedOption(props, {
              words: option.words,
              more: option.more,
              said: `${option.words}${option.more ? `, ${option.more}` : ''}`,
              ticked: selected,
            })
          }
          slots={{ popper: InFlow }}
        />
      </Steady>
      <Row between above={4}>
        {paste && <Button onClick={paste}>Typed or pasted numbers…</Button>}
        {fileAt && (
          <Button component={Link} to={fileAt}>
            A file…
          </Button>
        )}
        <Button variant="contained" onClick={close}>
          Done
        </Button>
      </Row>
    </SmallWindow>
  );
}
