import { fireEvent, screen } from '@testing-library/react';
import { expect, test, vi } from 'vitest';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import type { BenchQuestions } from '../../../core/api/people/imports';
import { choose, show } from '../../testing';
import { Questions } from './BenchQuestions';
import type { Staged } from './staged';

const photo: BenchQuestions['texting'][number] = {
  column: 2,
  heading: 'Photo consent',
  says: 'unclear',
  answer: null,
  examples: [{ who: 'Jo', cell: 'yes', if_grants: 'may be texted', if_refuses: 'will not be texted', if_stops: 'says nothing' }],
};
const remark: BenchQuestions['texting'][number] = {
  column: 2,
  heading: 'Remark',
  says: 'unclear',
  answer: null,
  examples: [
    {
      who: 'Dao',
      cell: 'STOP',
      if_grants: 'will not be texted',
      if_refuses: 'will not be texted',
      if_stops: 'will not be texted',
    },
    { who: 'Jo', cell: 'Pier 4', if_grants: 'cannot be read', if_refuses: 'will not be texted', if_stops: 'says nothing' },
  ],
};
const settings = { match: ['number', 'given_name', 'skip'], not_about_texts: [] } as unknown as ImportSettings;

function asking(part: {
  questions?: Partial<BenchQuestions>;
  counts?: Partial<Staged['counts']>;
  settings?: Partial<ImportSettings>;
}) {
  const change = vi.fn(() => Promise.resolve());
  const match = vi.fn();
  const staged = {
    questions: { texting: [], phones: [], ...part.questions },
    counts: { reference_conflicts: 0, conflict_examples: [], ...part.counts },
    settings: { ...settings, ...part.settings },
  } as unknown as Staged;
  show(<Questions staged={staged} change={change} match={match} />);
  return { change, match };
}

test('nothing to ask is nothing to see', () => {
  asking({});
  expect(screen.queryByRole('heading')).toBeNull();
});

test('an open column is asked about with what a yes in it would mean either way', () => {
  const { match, change } = asking({ questions: { texting: [photo] } });
  expect(screen.getByRole('heading').textContent).toBe('A question first');
  expect(screen.getByText('Jo: yes → may be texted')).toBeTruthy();
  expect(screen.getByText('Jo: yes → will not be texted')).toBeTruthy();
  expect(screen.getAllByRole('radio').some((radio) => (radio as HTMLInputElement).checked)).toBe(false);
  fireEvent.click(screen.getByRole('radio', { name: /said no to texts/ }));
  expect(match).toHaveBeenCalledWith(2, 'refusal');
  fireEvent.click(screen.getByRole('radio', { name: /not about texts/ }));
  expect(change).toHaveBeenCalledWith({ match: ['number', 'given_name', 'skip'], not_about_texts: [2], stop_columns: [] });
});

test('where some rows of a column say stop, only they may be meant; the column comes in as it is matched', () => {
  const { change } = asking({
    questions: { texting: [remark] },
    settings: { match: ['number', 'given_name', 'field:note'], not_about_texts: [2] },
  });
  expect(screen.getByText('Under “Remark” some rows say stop. What does the column say?')).toBeTruthy();
  expect(screen.getByText('Dao: STOP → will not be texted; Jo: Pier 4 → says nothing')).toBeTruthy();
  fireEvent.click(screen.getByRole('radio', { name: /only who says stop/ }));
  expect(change).toHaveBeenCalledWith({
    match: ['number', 'given_name', 'field:note'],
    not_about_texts: [],
    stop_columns: [2],
  });
});

test('an answer can be taken back; a column that is no longer about texts is not brought in as consent', () => {
  const { change } = asking({
    questions: { texting: [{ ...photo, answer: 'consent' }] },
    settings: { match: ['number', 'given_name', 'consent'] },
  });
  expect(screen.getByRole('heading').textContent).toBe('About being texted');
  choose('What a yes under “Photo consent” means', 'it is not about texts');
  expect(change).toHaveBeenCalledWith({ match: ['number', 'given_name', 'skip'], not_about_texts: [2], stop_columns: [] });
});

test.each([
  [{ consent_no: 1, consent_both: 0 }, '1 number says no and is not texted.'],
  [{ consent_no: 3, consent_both: 1 }, '3 numbers say no and are not texted; 1 of them says yes in another row.'],
  [{ consent_no: 1, consent_both: 1 }, '1 number says no and is not texted; it says yes in another row.'],
])('who says no is said: %j', (counts, says) => {
  asking({ questions: { texting: [{ ...photo, answer: 'refusal' }] }, counts });
  expect(document.body.textContent).toContain(says);
});

test('strangers with one reference stand side by side', () => {
  const { change } = asking({
    counts: {
      reference_conflicts: 1,
      conflict_examples: [{ reference: 'P-1', row: 4, file: 'Dao, +1 207 555 0150', here: 'Jo, +1 207 555 0142' }],
    },
  });
  expect(screen.getByText('P-1: Jo, +1 207 555 0142 · row 5: Dao, +1 207 555 0150')).toBeTruthy();
  fireEvent.click(screen.getByRole('radio', { name: /another person/ }));
  expect(change).toHaveBeenCalledWith({ reference_conflict: 'other_person' });
});

test('the column that is texted is named with its reason, and so are the others', () => {
  asking({
    questions: {
      phones: [
        { column: 2, heading: 'Cell', why: 'the heading says mobile; 96 % of its cells read as numbers', chosen: true },
        { column: 1, heading: 'Fax', why: 'the heading says fax; 90 % of its cells read as numbers', chosen: false },
      ],
    },
  });
  expect(
    screen.getByText(
      'Texts go to “Cell”: the heading says mobile; 96 % of its cells read as numbers. Numbers, too: “Fax” (the heading says fax).',
    ),
  ).toBeTruthy();
});
