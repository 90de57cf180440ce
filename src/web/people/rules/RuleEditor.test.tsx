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

describe('a rule as sentences', () => {
  beforeEach(() => {
    serve({ 'GET /api/fields/person/home_landing/values': { values: [{ value: 'Mill Quay', n: 9 }] } });
    show(<Held />);
  });

  test('a condition is added, its subject, test and value changed, and taken away', () => {
    fireEvent.click(screen.getByText('add a condition'));
    choose('What the condition is about', 'pass ends');
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
    fireEvent.click(screen.getByText('add a condition'));
    choose('What the condition is about', 'home landing');
    choose('Test', TEST_WORDS.is);
    fireEvent.change(screen.getByLabelText('Value'), { target: { value: 'Mill Quay' } });
    fireEvent.click(screen.getAllByText('or…')[0]);
    expect(rule.of).toEqual([{ on: 'field', field: 'home_landing', test: 'is', values: ['Mill Quay', ''] }]);
    expect(whole(rule).of).toEqual([{ on: 'field', field: 'home_landing', test: 'is', values: ['Mill Quay'] }]);
    expect(whole({ op: 'all', of: [{ on: 'field', field: 'home_landing', test: 'is', values: [''] }] })).toEqual(EVERYONE);
  });

  test('groups nest, lists are chosen by name, and contacts of dependants have conditions of their own', () => {
    fireEvent.click(screen.getByText('none of…'));
    choose('What the condition is about', 'is on');
    choose('List', 'Members');
    expect(rule.of).toEqual([{ op: 'none', of: [{ on: 'list', ids: [2] }] }]);
    fireEvent.click(screen.getAllByText('and…')[0]);
    choose('What the condition is about', 'contact of a dependant', 1);
    choose('Which contact', 'the second');
    const group = screen.getByRole('combobox', { name: 'Which contact' }).closest<HTMLElement>('[role=group]');
    if (group === null) throw new Error('the contact stands in no group');
    fireEvent.click(within(group).getByText('add a condition'));
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
    ).toEqual(['class', 'given name', 'family name', 'own reference', 'born']);
  });
});
