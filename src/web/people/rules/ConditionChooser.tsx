import { Autocomplete, TextField } from '@mui/material';
import { useState } from 'react';
import type { ActivityCondition, Condition } from '../../../core/audience/condition';
import { ACTIVITY_NOT_WORDS, ACTIVITY_WORDS } from '../../../core/audience/words';
import { foundByWords, inGroups } from '../../pieces/found-by-words';
import { InFlow } from '../../pieces/InFlow';
import { Bit } from '../../pieces/layout';
import type { Sources } from '../sources';
import { fieldsOf, startOf } from './fields-of';
import { optionGroup } from '../../pieces/form/offered';
import { SmallWindow } from '../../pieces/SmallWindow';

interface Offered {
  group: string;
  words: string;
  condition: Condition;
}
const LATELY = 30;
const MOST_SHOWN = 60;

const offered = (group: string, words: string, condition: Condition): Offered => ({ group, words, condition });

/** Every condition that can be added, as the sentence that it becomes: fields with their choices, lists, tags, what they did, and more. */
function offers(sources: Sources | undefined, about: 'person' | 'dependant'): Offered[] {
  const fields = fieldsOf(sources, about).flatMap(({ slug, label, type, choices = [] }) => [
    offered('Fields', label, startOf(slug, type)),
    ...(slug === 'born' ? [offered('Fields', 'age', { on: 'field', field: slug, test: 'years_at_least', years: 60 })] : []),
    ...choices.map((value) =>
      offered('Fields', `${label} is ${value}`, { on: 'field', field: slug, test: 'is', values: [value] }),
    ),
  ]);
  if (about === 'dependant') return fields;
  const named = (on: 'list' | 'tag', all: readonly { id: number; name: string }[]) =>
    all.flatMap(({ id, name }) => {
      const [group, words] = on === 'list' ? ['Lists', `on ${name}`] : ['Tags', `tagged ${name}`];
      return [offered(group, `is ${words}`, { on, ids: [id] }), offered(group, `is not ${words}`, { on, ids: [id], not: true })];
    });
  const did = (Object.keys(ACTIVITY_WORDS) as ActivityCondition['what'][]).flatMap((what) => {
    const lately = (words: string, when: ActivityCondition['when']) =>
      offered('What they did', `${words} in the last ${LATELY} days`, { on: 'activity', what, when, days: LATELY });
    return [lately(ACTIVITY_WORDS[what], 'last_days'), lately(ACTIVITY_NOT_WORDS[what], 'not_days')];
  });
  const contact = (words: string, which: 'first' | 'any') =>
    offered('Dependants', words, { on: 'dependant', contact: which, of: { op: 'all', of: [] } });
  return [
    ...fields,
    ...named('list', sources?.lists ?? []),
    ...named('tag', sources?.tags ?? []),
    ...did,
    offered('Texts', 'can be texted', { on: 'reach', is: 'yes' }),
    offered('Texts', 'cannot be texted', { on: 'reach', is: 'no' }),
    offered('Texts', 'has agreed to marketing', { on: 'consent', purpose: 'marketing', is: 'granted' }),
    offered('Texts', 'has agreed to service notices', { on: 'consent', purpose: 'service', is: 'granted' }),
    contact('is the first contact of a dependant', 'first'),
    contact('is a contact of a dependant', 'any'),
  ];
}

/** Adds a condition: chosen by typing what it says. */
export function ConditionChooser({
  anchor,
  about,
  sources,
  add,
  close,
}: {
  anchor: HTMLElement;
  about: 'person' | 'dependant';
  sources: Sources | undefined;
  add: (condition: Condition) => void;
  close: () => void;
}) {
  const [typed, setTyped] = useState('');
  const all = foundByWords(offers(sources, about), ({ words }) => [words], typed);
  const options = inGroups(all).slice(0, MOST_SHOWN);
  return (
    <SmallWindow label="Add a condition" at={anchor} close={close} width={380} pad={10}>
      <Autocomplete<Offered, false, true>
        open
        disablePortal
        disableClearable
        autoHighlight
        clearOnBlur={false}
        options={options}
        inputValue={typed}
        onInputChange={(_event, words, reason) => reason === 'input' && setTyped(words)}
        groupBy={({ group }) => group}
        renderGroup={optionGroup}
        getOptionLabel={({ words }) => words}
        getOptionKey={({ words, group }) => `${group} ${words}`}
        filterOptions={(each) => each}
        onChange={(_event, { condition }) => {
          close();
          add(condition);
        }}
        onKeyDown={(event) => event.key === 'Escape' && close()}
        noOptionsText="Nothing of that name."
        renderInput={(params) => (
          <TextField {...params} autoFocus label="A condition" placeholder="landing, list, tag, age, answered…" />
        )}
        slots={{ popper: InFlow }}
      />
      {all.length > MOST_SHOWN && (
        <Bit soft small>
          {all.length - MOST_SHOWN} more; type to find them
        </Bit>
      )}
    </SmallWindow>
  );
}
