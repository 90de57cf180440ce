import { Autocomplete, Box, Dialog, TextField } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { broadcasts } from '../../core/api/sending/broadcasts';
import { people } from '../../core/api/people/people';
import { outcomes } from '../../core/api/sending/outcomes';
import { fold } from '../../core/text/fold';
import { useAct, useGet } from '../api/client';
import { useDesk } from '../api/session';
import { dayOf } from '../pieces/format';
import { InFlow } from '../pieces/InFlow';
import { Bit, Row, Words } from '../pieces/layout';
import { showPhone } from '../pieces/phone';
import { useSettled } from '../pieces/small';
import { PARTS } from '../setup/for-others';
import { AREAS } from './areas';

interface Command {
  group: string;
  words: string;
  more?: string;
  /** Where it leads, or what it begins; never what sends. */
  to: string | (() => void);
}

const Place = styled(Box)({ padding: 14, minHeight: 120 });

/** Go to anything, or begin a broadcast: one line to type in. It never sends. */
export default function Palette({ close }: { close: () => void }): ReactNode {
  const navigate = useNavigate();
  const { account, workspace } = useDesk();
  const [typed, setTyped] = useState('');
  const search = useSettled(typed.trim(), 150);
  const sources = useGet(people.sources, {}, { keep: true }).data;
  const found = useGet(people.list, search.length >= 2 ? { query: { search } } : undefined, { keep: true }).data?.people ?? [];
  const sent = useGet(outcomes.list, {}, { keep: true }).data?.runs ?? [];
  const drafts = useGet(broadcasts.list, { query: search ? { search } : {} }, { keep: true }).data?.broadcasts ?? [];
  const make = useAct(broadcasts.make);
  const begin = (body: { name: string; list_id?: number }) => () =>
    void make({ body }).then(({ id }) => navigate(`/broadcasts/${id}`));
  const mayWrite = account.role !== 'look';
  const wanted = fold(search);
  const fits = (words: string) => wanted === '' || fold(words).includes(wanted);
  const all: Command[] = [
    ...(mayWrite ? [{ group: 'Begin', words: 'A new broadcast', to: begin({ name: '' }) }] : []),
    ...(mayWrite && wanted !== ''
      ? (sources?.lists ?? []).map((list) => ({
          group: 'Begin',
          words: `A broadcast to ${list.name}`,
          to: begin({ name: '', list_id: list.id }),
        }))
      : []),
    ...(mayWrite ? [{ group: 'Begin', words: 'Bring in people', to: '/people/bring-in' }] : []),
    ...AREAS.map(({ name, path }) => ({ group: 'Views', words: name, to: path })),
    { group: 'Views', words: 'Dependants', to: '/people/dependants' },
    { group: 'Views', words: 'Templates', to: '/broadcasts/templates' },
    { group: 'Views', words: 'Saved pieces', to: '/broadcasts/templates?kind=piece' },
    { group: 'Views', words: 'Practice phones', to: '/phones' },
    ...PARTS.map(({ key, name }) => ({ group: 'Settings', words: name, to: `/setup/${key}` })),
    ...(sources?.lists ?? []).map((list) => ({ group: 'Lists and segments', words: list.name, to: `/people?list=${list.id}` })),
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
  ].filter((each) => fits(each.words));
  const options: Command[] = [
    ...all,
    ...(wanted.length >= 2
      ? found.slice(0, 8).map((person) => ({
          group: 'People',
          words: `${person.given_name} ${person.family_name}`.trim() || 'no name',
          more: person.number ? showPhone(person.number) : 'no text number',
          to: `/people/${person.id}`,
        }))
      : []),
    ...drafts.slice(0, wanted === '' ? 4 : 8).map((each) => ({
      group: 'Broadcasts',
      words: each.name || 'no name yet',
      more: each.state.replace('_', ' '),
      to: `/broadcasts/${each.id}`,
    })),
    ...sent
      .filter((run) => fits(run.name))
      .slice(0, wanted === '' ? 4 : 8)
      .map((run) => ({
        group: 'Runs',
        words: run.name || 'no name',
        more: dayOf(run.due_at, workspace.zone),
        to: `/runs/${run.id}`,
      })),
  ];
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm" aria-label="Go to">
      <Place>
        <Autocomplete<Command>
          open
          disablePortal
          options={options}
          groupBy={(option) => option.group}
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
          noOptionsText="Nothing of that name."
          renderInput={(params) => <TextField {...params} autoFocus label="Go to" placeholder="a name, a number, a list…" />}
          renderOption={({ key, ...props }, option) => (
            <li key={key} {...props}>
              <Row between nowrap grow>
                <Bit cut>{option.words}</Bit>
                {option.more && (
                  <Bit soft small nobreak>
                    {option.more}
                  </Bit>
                )}
              </Row>
            </li>
          )}
          slots={{ popper: InFlow }}
        />
        <Words soft small above={10}>
          Begins and opens; it never sends.
        </Words>
      </Place>
    </Dialog>
  );
}
