import { Autocomplete, Box, Dialog, TextField } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { broadcasts } from '../../core/api/sending/broadcasts';
import { keywords } from '../../core/api/desk/keywords';
import { people } from '../../core/api/people/people';
import { outcomes } from '../../core/api/sending/outcomes';
import { templates } from '../../core/api/sending/templates';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { dayOf } from '../pieces/format';
import { InFlow } from '../pieces/InFlow';
import { Bit, Row, Words } from '../pieces/layout';
import { showPhone } from '../pieces/phone';
import { useSettled } from '../pieces/small';
import { foundByWords, inGroups } from '../pieces/found-by-words';
import { ACTS, forRole, SETTINGS, VIEWS, type Command } from './commands';
import { optionGroup } from '../pieces/form/offered';

const Place = styled(Box)({ padding: 14, minHeight: 120 });

/** Go to anything, or begin a broadcast: one line to type in. It never sends. */
export default function Palette({ close }: { close: () => void }): ReactNode {
  const navigate = useNavigate();
  const { account, workspace } = useDesk();
  const [typed, setTyped] = useState('');
  const search = useSettled(typed.trim(), 150);
  const sources = useGet(people.sources, {}, { keep: true }).data;
  const persons = useGet(people.list, search.length >= 2 ? { query: { search } } : undefined, { keep: true }).data?.people ?? [];
  const sent = useGet(outcomes.list, {}, { keep: true }).data?.runs ?? [];
  const asked = useGet(broadcasts.list, { query: search ? { search } : {} }, { keep: true });
  // while the next answer is on its way, those of the one before that fit
  const before = asked.data?.broadcasts ?? [];
  const drafts = asked.isPlaceholderData ? foundByWords(before, (each) => [each.called, each.words], search) : before;
  const make = useAct(broadcasts.make);
  const begin = (body: { name: string; list_id?: number }) => () =>
    void make({ body }).then(({ id }) => navigate(`/broadcasts/${id}`));
  const mayWrite = account.role !== 'look';
  const texts = usePrepared(search);
  const named = useGet(keywords.list, {}, { keep: true }).data?.keywords ?? [];
  const lists = sources?.lists ?? [];
  const known: Command[] = [
    ...(mayWrite ? [{ group: 'Begin', words: 'A new broadcast', to: begin({ name: '' }) }] : []),
    ...forRole(ACTS, account.role),
    ...(mayWrite && search !== ''
      ? lists.map((list) => ({
          group: 'Begin',
          words: `A broadcast to ${list.name}`,
          to: begin({ name: '', list_id: list.id }),
        }))
      : []),
    ...VIEWS,
    // with nothing typed the parts are enough
    ...SETTINGS.filter(({ more }) => search !== '' || more === undefined),
    ...lists.map((list) => ({ group: 'Lists and segments', words: list.name, to: `/people?list=${list.id}` })),
    ...(sources?.segments ?? []).map((each) => ({
      group: 'Lists and segments',
      words: each.name,
      more: 'segment',
      to: `/people?segment=${each.id}`,
    })),
    ...(sources?.tags ?? []).map((tag) => ({
      group: 'Lists and segments',
      words: tag.name,
      more: 'tag',
      to: `/people?tag=${tag.id}`,
    })),
    ...named.map((each) => ({
      group: 'Keywords',
      words: each.word,
      more: each.list ?? each.tag ?? 'keyword',
      to: `/replies/keywords?open=${each.id}`,
    })),
  ];
  const runs = sent.map((run) => ({
    group: 'Runs',
    words: run.name || 'no name',
    more: dayOf(run.due_at, workspace.zone),
    to: `/runs/${run.id}`,
  }));
  const found: Command[] = [
    ...foundByWords(known, ({ words, also = [] }) => [words, ...also], search),
    // those are found by the server, by more than their names
    ...texts,
    ...(search.length >= 2
      ? persons.slice(0, 8).map((person) => ({
          group: 'People',
          words: `${person.given_name} ${person.family_name}`.trim() || 'no name',
          more: person.number ? showPhone(person.number) : 'no text number',
          to: `/people/${person.id}`,
        }))
      : []),
    ...drafts.slice(0, search === '' ? 4 : 8).map((each) => ({
      group: 'Broadcasts',
      words: each.called || 'nothing written yet',
      more: each.state.replace('_', ' '),
      to: `/broadcasts/${each.id}`,
    })),
    ...foundByWords(runs, ({ words }) => [words], search).slice(0, search === '' ? 4 : 8),
  ];
  const options = inGroups(found);
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm" aria-label="Go to">
      <Place>
        <Autocomplete<Command>
          open
          disablePortal
          options={options}
          groupBy={(option) => option.group}
          renderGroup={optionGroup}
          getOptionLabel={(option) => option.words}
          getOptionKey={(option) => `${option.group} ${option.words} ${typeof option.to === 'string' ? option.to : ''}`}
          // what fits is decided above, and by the server
          filterOptions={(every) => every}
          inputValue={typed}
          onInputChange={(_event, words, reason) => reason !== 'selectOption' && setTyped(words)}
          onChange={(_event, option) => {
            if (!option) return;
            close();
            if (typeof option.to === 'string') void navigate(option.to);
            else option.to();
          }}
          autoHighlight
          // open for good, it would keep Escape for itself
          onClose={(_event, reason) => reason === 'escape' && close()}
          noOptionsText="Nothing of that name."
          renderInput={(params) => <TextField {...params} autoFocus label="Go to" placeholder="a name, a number, a list…" />}
          renderOption={(props, option) => <OneCommand key={props.key} props={props} option={option} />}
          slots={{ popper: InFlow }}
        />
        <Words soft small above={10}>
          Begins and opens; it never sends.
        </Words>
      </Place>
    </Dialog>
  );
}

/** A command as it stands in the list. */
function OneCommand({ props, option }: { props: React.HTMLAttributes<HTMLLIElement> & { key?: React.Key }; option: Command }) {
  const { key, ...rest } = props;
  return (
    <li key={key} {...rest}>
      <Row between nowrap grow>
        <Bit cut>{option.words}</Bit>
        {option.more && (
          <Bit soft small nobreak>
            {option.more}
          </Bit>
        )}
      </Row>
    </li>
  );
}

/** Templates, saved pieces and ready answers by name or words; nothing before something is typed. */
function usePrepared(search: string): Command[] {
  const asked = (kind: 'template' | 'piece' | 'answer') =>
    search.length >= 2 ? { query: { kind, search, skip: 0 } } : undefined;
  const kinds = [
    ['template', 'template', useGet(templates.list, asked('template'), { keep: true })],
    ['piece', 'saved piece', useGet(templates.list, asked('piece'), { keep: true })],
    ['answer', 'ready answer', useGet(templates.list, asked('answer'), { keep: true })],
  ] as const;
  return search.length < 2
    ? []
    : kinds.flatMap(([kind, more, { data }]) =>
        (data?.texts ?? []).slice(0, 8).map((text) => ({
          group: 'Templates',
          words: text.name,
          more,
          to: `/broadcasts/templates?kind=${kind}&open=${text.id}`,
        })),
      );
}
