import { Autocomplete, Button, TextField } from '@mui/material';
import { useEffect, useState } from 'react';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import type { About, Draft } from '../../../core/plan/draft/draft';
import { fold } from '../../../core/text/fold';
import { ask } from '../../api/client';
import { people } from '../../pieces/format';
import { InFlow, Steady } from '../../pieces/InFlow';
import { Row } from '../../pieces/layout';
import { Trouble } from '../../pieces/small';
import { keepsChosen, optionGroup, tickedOption } from '../../pieces/form/offered';
import { SmallWindow, type At } from '../../pieces/SmallWindow';

interface Choice {
  field: string;
  label: string;
  value: string;
  people: number;
}
const isOf = ({ field, value }: Choice, about: About | undefined) =>
  about?.field === field && about.values.some((each) => fold(each) === fold(value));

/** What stands where nothing can be chosen. */
function nothing(choices: readonly Choice[] | undefined, failed: boolean): string {
  if (!choices) return failed ? 'They could not be looked at.' : 'Looking at their dependants…';
  return choices.length === 0
    ? 'Nothing is known of these dependants that makes groups of them: give them a class or another field.'
    : 'None of them has that.';
}

/**
 * Whom the texts are about, where nobody knows for whom people were chosen: values of one field of their dependants, several at once.
 * Each press counts at once, as with whom it goes to; nothing chosen names all again.
 */
export function AboutPicker({
  id,
  draft,
  at,
  change,
  close,
}: {
  id: number;
  draft: Draft;
  /** Where it opens: what opened it may go with the first choice. */
  at: At;
  change: (part: Partial<Draft>) => void;
  close: () => void;
}) {
  const [choices, setChoices] = useState<Choice[]>();
  const [error, setError] = useState<unknown>();
  // what can be chosen is that of the audience, whatever is chosen of it: asked once, when it is opened
  const [asked] = useState(draft);
  useEffect(() => {
    ask(broadcasts.aboutWhom, { params: { id }, body: { draft: asked } }).then((answer) => setChoices(answer.choices), setError);
  }, [id, asked]);
  const press = (choice: Choice) => {
    const { field, value } = choice;
    const about = draft.about?.field === field ? draft.about.values : [];
    const values = isOf(choice, draft.about) ? about.filter((each) => fold(each) !== fold(value)) : [...about, value];
    change({ about: values.length > 0 ? { field, values } : undefined });
  };
  return (
    <SmallWindow label="Which dependants the texts are about" at={at} close={close} width={360}>
      {error !== undefined && <Trouble error={error} />}
      <Steady>
        <Autocomplete<Choice, true, true>
          open
          multiple
          disablePortal
          disableCloseOnSelect
          disableClearable
          options={choices ?? []}
          value={(choices ?? []).filter((each) => isOf(each, draft.about))}
          groupBy={({ label }) => label}
          renderGroup={optionGroup}
          getOptionLabel={({ value }) => value}
          getOptionKey={({ field, value }) => JSON.stringify([field, value])}
          isOptionEqualToValue={(a, b) => a.field === b.field && a.value === b.value}
          onChange={(_event, _all, _reason, detail) => detail && press(detail.option)}
          onKeyDown={keepsChosen(close)}
          renderValue={() => null}
          autoHighlight
          noOptionsText={nothing(choices, error !== undefined)}
          renderInput={(params) => (
            <TextField {...params} autoFocus label="The texts are about" placeholder="class, boat, place…" />
          )}
          renderOption={(props, option, { selected }) =>
            tickedOption(props, {
              words: option.value,
              more: `of ${people(option.people)}`,
              said: `${option.label} ${option.value}, of ${people(option.people)}`,
              ticked: selected,
            })
          }
          slots={{ popper: InFlow }}
        />
      </Steady>
      <Row between above={4}>
        {draft.about ? <Button onClick={() => change({ about: undefined })}>Name all again</Button> : <span />}
        <Button variant="contained" onClick={close}>
          Done
        </Button>
      </Row>
    </SmallWindow>
  );
}
