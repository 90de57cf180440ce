import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test, vi } from 'vitest';
import { EMPTY_DRAFT } from '../../../core/plan/draft/draft';
import { serve, show } from '../../testing';
import { Remarks } from '../sheet/Remarks';
import { planOf } from '../testing';
import { Forcing } from './Measure';

const forced = (character: string, replacement: string | null, picture = false, language = 'en') => ({
  language,
  character,
  replacement,
  picture,
  at: [0],
});

test('a picture is one warning with one act, and not a hint besides', async () => {
  serve({ 'POST /api/links/check': { links: [] } });
  const draft = { ...EMPTY_DRAFT, words: 'Off \u{1f469}\u200d\u{1f680} today' };
  const plan = planOf({
    forcing: [forced('\u{1f469}\u200d\u{1f680}', null, true)],
    extended_cost: { parts: 41, cost_micro: 310_000 },
    hints: [{ place: 'words', check: 'extended characters', message: 'Extended characters cost 41 more parts, $0.31.' }],
  });
  const change = vi.fn();
  show(
    <>
      <Forcing draft={draft} plan={plan} change={change} />
      <Remarks id={1} draft={draft} plan={plan} hasSenders change={change} />
    </>,
  );
  await waitFor(() => expect(document.body.textContent).toContain('turns the English texts into extended characters'));
  expect(document.body.textContent.match(/41 more parts/g)).toHaveLength(1);
  await userEvent.click(screen.getByRole('button', { name: 'Take it out' }));
  expect(change).toHaveBeenCalledWith({ words: 'Off today' });
});

test('several are named once, whatever their languages, and put right at once', async () => {
  serve({});
  const draft = { ...EMPTY_DRAFT, words: 'Off – now', translations: { fr: 'Arrêté… ж' } };
  const plan = planOf({
    forcing: [forced('–', '-'), forced('…', '...', false, 'fr'), forced('ж', null, false, 'fr')],
    extended_cost: null,
  });
  const change = vi.fn();
  show(<Forcing draft={draft} plan={plan} change={change} />);
  await screen.findByText(/^– \(dash\), … \(ellipsis\) and ж$/);
  await userEvent.click(screen.getByRole('button', { name: 'Use plain ones' }));
  expect(change).toHaveBeenCalledWith({ words: 'Off - now', translations: { fr: 'Arreté... ж' } });
});
