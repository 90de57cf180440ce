import { FormControl, FormControlLabel, FormLabel, Radio, RadioGroup, Stack, Typography } from '@mui/material';
import { styled } from '@mui/material/styles';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { BenchQuestions } from '../../../core/api/people/imports';
import { count } from '../../pieces/format';

import type { Change, Staged } from './staged';
import { Choose } from '../../pieces/form/choices';

const Asking = styled(Stack)({ marginBottom: 16 }) as typeof Stack;
const Asks = styled(FormLabel, { shouldForwardProp: (name) => name !== 'open' })<{ open: boolean }>(({ theme, open }) => ({
  color: open ? theme.bell.brick : theme.bell.ink,
  fontWeight: 650,
}));

type Texting = BenchQuestions['texting'][number];

/** What only a person can say: what columns about being texted mean, and whether a reference joins strangers. */
export function Questions({
  staged,
  change,
  match,
}: {
  staged: Staged;
  change: Change;
  match: (column: number, target: string) => void;
}) {
  const { questions, counts, settings } = staged;
  const texting = questions.texting;
  const phones = questions.phones;
  const conflicts = counts.reference_conflicts ?? 0;
  if (texting.length === 0 && conflicts === 0 && phones.length === 0) return null;
  const open = texting.filter((each) => each.answer === null).length + (conflicts > 0 && !settings.reference_conflict ? 1 : 0);
  return (
    <Asking component="section" spacing={1.5} aria-label="What only you can say">
      {(texting.length > 0 || conflicts > 0) && (
        <h2>{open > 0 ? `${open === 1 ? 'A question' : `${open} questions`} first` : 'About being texted'}</h2>
      )}
      {texting
        .filter((each) => each.answer === null)
        .map((each) => (
          <AboutTexts key={each.column} asked={each} settings={settings} change={change} match={match} />
        ))}
      {conflicts > 0 && <Strangers staged={staged} change={change} />}
      {texting
        .filter((each) => each.answer !== null)
        .map((each) => (
          <Answered key={each.column} asked={each} settings={settings} change={change} match={match} />
        ))}
      {counts.consent_no > 0 && <SaidNo numbers={counts.consent_no} both={counts.consent_both} />}
      {phones.length > 0 && <Phones phones={phones} />}
    </Asking>
  );
}

interface Asked {
  asked: Texting;
  settings: ImportSettings;
  change: Change;
  match: (column: number, target: string) => void;
}

const chooser =
  ({ asked: { column }, settings, change, match }: Asked) =>
  (chosen: string) => {
    const without = (columns: readonly number[] = []) => columns.filter((each) => each !== column);
    if (chosen !== 'not' && chosen !== 'stops') return match(column, chosen);
    const kept = settings.match.map((target, at) =>
      at === column && (target === 'consent' || target === 'refusal') ? 'skip' : target,
    );
    void change({
      match: kept,
      not_about_texts: [...without(settings.not_about_texts), ...(chosen === 'not' ? [column] : [])],
      stop_columns: [...without(settings.stop_columns), ...(chosen === 'stops' ? [column] : [])],
    });
  };

/** A column of remarks, say, in which some rows say stop. */
const saysStop = ({ examples }: Texting) => examples.some((each) => each.if_stops === 'will not be texted');

/** Real rows, and what they would mean. */
const way = ({ examples }: Texting, key: 'if_grants' | 'if_refuses' | 'if_stops') =>
  examples.map((each) => `${each.who === '' ? '' : `${each.who}: `}${each.cell} → ${each[key]}`).join('; ');

function AboutTexts(props: Asked) {
  const { asked } = props;
  const choose = chooser(props);
  return (
    <FormControl>
      <Asks open>
        {saysStop(asked)
          ? `Under “${asked.heading}” some rows say stop. What does the column say?`
          : `What does a yes under “${asked.heading}” mean?`}
      </Asks>
      <RadioGroup value={asked.answer ?? ''} onChange={(_event, chosen) => choose(chosen)}>
        {saysStop(asked) && <Answer value="stops" says="only who says stop is not texted" example={way(asked, 'if_stops')} />}
        <Answer value="consent" says="they may be texted" example={way(asked, 'if_grants')} />
        <Answer value="refusal" says="they said no to texts" example={way(asked, 'if_refuses')} />
        <Answer value="not" says="it is not about texts" example="" />
      </RadioGroup>
    </FormControl>
  );
}

/** A column whose meaning is known, by its heading or because someone said so; it can be changed. */
function Answered(props: Asked) {
  const { asked } = props;
  return (
    <Typography variant="body2" component="div">
      “{asked.heading}”{asked.answer === 'stops' ? '' : ', a yes'}:{' '}
      <Choose
        label={`What a yes under “${asked.heading}” means`}
        value={asked.answer ?? 'not'}
        options={[
          ['consent', 'they may be texted'],
          ['refusal', 'they said no to texts'],
          ...(saysStop(asked) || asked.answer === 'stops' ? [['stops', 'only who says stop is not texted'] as const] : []),
          ['not', 'it is not about texts'],
        ]}
        onChange={chooser(props)}
      />
      {asked.answer !== 'not' && (
        <Typography variant="caption" color="text.secondary" component="div">
          {way(asked, asked.answer === 'consent' ? 'if_grants' : asked.answer === 'stops' ? 'if_stops' : 'if_refuses')}
        </Typography>
      )}
    </Typography>
  );
}

function Answer({ value, says, example }: { value: string; says: string; example: string }) {
  return (
    <FormControlLabel
      value={value}
      control={<Radio size="small" />}
      label={
        <>
          <Typography variant="body2">{says}</Typography>
          {example !== '' && (
            <Typography variant="caption" color="text.secondary">
              {example}
            </Typography>
          )}
        </>
      }
    />
  );
}

function Strangers({ staged, change }: { staged: Staged; change: Change }) {
  const { counts, settings } = staged;
  const many = counts.reference_conflicts;
  return (
    <FormControl>
      <Asks open={!settings.reference_conflict}>
        {many === 1 ? 'One row has' : `${count(many)} rows have`} the own reference of someone with another name and number.
      </Asks>
      {counts.conflict_examples.map((each) => (
        <Typography key={each.row} variant="caption" color="text.secondary">
          {each.reference}: {each.here} · row {count(each.row + 1)}: {each.file}
        </Typography>
      ))}
      <RadioGroup
        value={settings.reference_conflict ?? ''}
        onChange={(_event, chosen) =>
          void change({ reference_conflict: chosen === 'same_person' ? 'same_person' : 'other_person' })
        }
      >
        <Answer value="other_person" says="another person; the reference stays with who has it" example="" />
        <Answer value="same_person" says="the same person, with a new name and number" example="" />
      </RadioGroup>
    </FormControl>
  );
}

/** How many numbers the file says no for; of several rows with a number the strictest word counts. */
function SaidNo({ numbers, both }: { numbers: number; both: number }) {
  return (
    <Typography variant="body2">
      <b>{count(numbers)}</b> {numbers === 1 ? 'number says no and is' : 'numbers say no and are'} not texted
      {both > 0 &&
        `; ${both === numbers ? (both === 1 ? 'it says' : 'all say') : `${count(both)} of them ${both === 1 ? 'says' : 'say'}`} yes in another row`}
      .
    </Typography>
  );
}

/** Which column is texted and why, and which others hold numbers, too. */
function Phones({ phones }: { phones: BenchQuestions['phones'] }) {
  const chosen = phones.find((each) => each.chosen);
  const others = phones.filter((each) => !each.chosen);
  return (
    <Typography variant="body2" color="text.secondary">
      {chosen ? `Texts go to “${chosen.heading}”: ${chosen.why}. ` : 'No column of numbers was chosen for texts. '}
      {others.length > 0 && `Numbers, too: ${others.map((each) => `“${each.heading}” (${each.why.split(';')[0]})`).join(', ')}.`}
    </Typography>
  );
}
