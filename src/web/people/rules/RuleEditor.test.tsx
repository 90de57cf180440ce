import { fireEvent, screen, within } from '@testing-library/react';
import { useState } from 'react';
import { beforeEach, describe, expect, test } from 'vitest';
import { TEST_WORDS } from '../../../core/audience/words';
import { EVERYONE, type Group } from '../../../core/audience/condition';
import { choose, serve, show } from '../../testing';
import { RuleEditor } from './RuleEditor';
import { whole } from './SegmentBar';
import type { Sources } from '../sources';

const sources: Sources = {
  everyone: 10,
  cannot: 1,
  lists: [
    { id: 1, name: 'Crew', people: 3, filling_import: null, leave_after: null },
    { id: 2, name: 'Members', people: 5, filling_import: null, leave_after: null },
  ],
  tags: [{ id: 9, name: 'bicycle', people: 2 }],
  segments: [],
  fields: [
    { slug: 'home_landing', label: 'home landing', type: 'choice', choices: [], about: 'person' },
    { slug: 'pass_ends', label: 'pass ends', type: 'date', choices: [], about: 'person' },
    { slug: 'class', label: 'class', type: 'choice', choices: [], about: 'dependant' },
  ],
};
let rule: Group = EVERYONE;

function Held() {
  const [held, setHeld] = useState<Group>(EVERYONE);
  rule = held;
  return <RuleEditor rule={held} change={setHeld} sources={sources} about="person" lead="Everyone for whom" />;
}

/** Opens the chooser and takes what it offers under these words. */
const add = (way: string, words: string) => {
  fireEvent.click(screen.getByText(way));
  fireEvent.click(screen.getByRole('option', { name: words }));
};

describe('a rule as sentences', () => {
  beforeEach(() => {
    serve({ 'GET /api/fields/person/home_landing/values': { values: [{ value: 'Mill Quay', n: 9 }] } });
    show(<Held />);
  });

  test('a condition is added, its subject, test and value changed, and taken away', () => {
    add('add a condition', 'pass ends');
    expect(rule.of).toEqual([{ on: 'field', field: 'pass_ends', test: 'next_days', days: 30 }]);
    fireEvent.change(screen.getByLabelText('Days'), { target: { value: '7' } });
    choose('Test', TEST_WORDS.longer_ago);
    expect(rule.of).toEqual([{ on: 'field', field: 'pass_ends', test: 'longer_ago', days: 7 }]);
    choose('Test', TEST_WORDS.on);
    expect(rule.of).toEqual([{ on: 'field', field: 'pass_ends', test: 'on', day: '2027-01-01' }]);
    fireEvent.click(screen.getByLabelText('Take this condition away'));
    expect(rule).toEqual(EVERYONE);
  });

  test('words take several values; a value still blank is not asked', () => {
    add('add a condition', 'home landing');
    choose('Test', TEST_WORDS.is);
    fireEvent.change(screen.getByLabelText('Value'), { target: { value: 'Mill Quay' } });
    fireEvent.click(screen.getAllByText('or…')[0]);
    expect(rule.of).toEqual([{ on: 'field', field: 'home_landing', test: 'is', values: ['Mill Quay', ''] }]);
    expect(whole(rule).of).toEqual([{ on: 'field', field: 'home_landing', test: 'is', values: ['Mill Quay'] }]);
    expect(whole({ op: 'all', of: [{ on: 'field', field: 'home_landing', test: 'is', values: [''] }] })).toEqual(EVERYONE);
  });

  test('groups nest, lists are chosen by name, and contacts of dependants have conditions of their own', () => {
    add('none of…', 'is on Crew');
    choose('List', 'Members');
    expect(rule.of).toEqual([{ op: 'none', of: [{ on: 'list', ids: [2] }] }]);
    fireEvent.click(screen.getAllByText('and…')[0]);
    fireEvent.click(screen.getByRole('option', { name: 'is a contact of a dependant' }));
    choose('Which contact', 'the second');
    const group = screen.getByRole('combobox', { name: 'Which contact' }).closest<HTMLElement>('[role=group]');
    if (group === null) throw new Error('the contact stands in no group');
    fireEvent.click(within(group).getByText('add a condition'));
    fireEvent.click(screen.getByRole('option', { name: 'class' }));
    expect(rule.of[1]).toEqual({
      on: 'dependant',
      contact: 'second',
      of: { op: 'all', of: [{ on: 'field', field: 'class', test: 'filled' }] },
    });
    // the dependant's own fields only
    fireEvent.mouseDown(within(group).getByRole('combobox', { name: 'What the condition is about' }));
    expect(
      within(screen.getByRole('listbox'))
        .getAllByRole('option')
        .map((option) => option.textContent),
    ).toEqual(['class', 'given name', 'family name', 'own reference', 'born', 'age']);
  });

  test('what did not happen, what they are not on, and an age are one condition each; a choice is added with its value', () => {
    add('add a condition', 'is not tagged bicycle');
    fireEvent.click(screen.getByText('and…'));
    fireEvent.change(screen.getByRole('combobox', { name: 'A condition' }), { target: { value: 'got no' } });
    expect(screen.getAllByRole('option').map((each) => each.textContent)).toEqual(['got no text in the last 30 days']);
    fireEvent.click(screen.getByRole('option'));
    add('and…', 'age');
    expect(document.activeElement).toBe(screen.getByLabelText('Years'));
    fireEvent.change(screen.getByLabelText('Years'), { target: { value: '65' } });
    expect(rule.of).toEqual([
      { on: 'tag', ids: [9], not: true },
      { on: 'activity', what: 'texted', when: 'not_days', days: 30 },
      { on: 'field', field: 'born', test: 'years_at_least', years: 65 },
    ]);
    // turned round, it is about the same tag
    choose('What the condition is about', 'is tagged');
    expect(rule.of[0]).toEqual({ on: 'tag', ids: [9] });
  });
});
