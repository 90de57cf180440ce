import { Button } from '@mui/material';
import { useMemo, useRef, useState } from 'react';
import type { PlanSummary } from '../../core/api/plan';
import { BUILT_IN } from '../../core/merge/compile';
import type { Draft } from '../../core/plan/draft';
import { LIMITS, measure } from '../../core/text/measure';
import { plainFor } from '../../core/text/plain-replacements';
import type { Sources } from '../people/People';
import { count, money, people } from '../pieces/format';
import { Choose } from '../pieces/small';
import { Editor, type Offer } from './Editor';

const NAMED: Record<string, string> = {
  '–': 'dash',
  '—': 'long dash',
  '’': 'curly apostrophe',
  '“': 'curly quote',
  '”': 'curly quote',
  '…': 'ellipsis',
};

/** The words, their live measure, what forces extended characters and what that costs, opt-out wording, one link. */
export function Words({
  draft,
  plan,
  sources,
  change,
}: {
  draft: Draft;
  plan: PlanSummary | undefined;
  sources: Sources | undefined;
  change: (part: Partial<Draft>) => void;
}) {
  const insert = useRef<((text: string) => void) | undefined>(undefined);
  const [linking, setLinking] = useState(false);
  const all = sources?.fields;
  const hasDependants = (all ?? []).some((field) => field.about === 'dependant') || /\{\s*dependants\./.test(draft.words);
  const fields = useMemo(
    () => [
      ...(all ?? []).filter((field) => field.about === 'person'),
      ...(hasDependants
        ? [
            { slug: 'dependants.given_name', label: 'dependants’ given names', type: 'text' as const },
            ...(all ?? [])
              .filter((field) => field.about === 'dependant')
              .map((field) => ({ slug: `dependants.${field.slug}`, label: `dependants’ ${field.label}`, type: 'text' as const })),
          ]
        : []),
    ],
    [all, hasDependants],
  );
  const link = draft.link;
  const known = useMemo(
    () =>
      new Map<string, string>([
        ...BUILT_IN.map((f) => [f.slug, f.label] as const),
        ['ready_text', 'ready-made text'] as const,
        ['dependants.family_name', 'dependants’ family names'] as const,
        ...fields.map((f) => [f.slug, f.label] as const),
        ...(link ? [[`link ${link.name}`, `link ${link.name}`] as const] : []),
      ]),
    [fields, link],
  );
  const offers = useMemo<Offer[]>(
    () => [
      { insert: '{given_name or "neighbor"}', label: 'given name', detail: 'or “neighbor”' },
      { insert: '{family_name}', label: 'family name', detail: '' },
      ...(draft.to.some((source) => source.kind === 'file')
        ? [{ insert: '{ready_text}', label: 'ready-made text', detail: 'from the file' }]
        : []),
      ...fields.map((f) => ({
        insert: f.type === 'date' ? `{${f.slug} as "MMM d"}` : `{${f.slug}}`,
        label: f.label,
        detail: f.type === 'date' ? 'date' : '',
      })),
      { insert: '{send_date as "EEE, MMM d"}', label: 'date it is sent', detail: 'Thu, Dec 3' },
      { insert: '{send_date + 7 days as "EEE, MMM d"}', label: 'a week after sending', detail: '' },
      ...(link ? [{ insert: `{link ${link.name}}`, label: `link ${link.name}`, detail: 'personal, clicks counted' }] : []),
      { insert: '{sender_name}', label: 'sender', detail: '' },
      { insert: '{workspace_name}', label: 'our name', detail: '' },
    ],
    [fields, link, draft.to],
  );
  const own = measure(draft.words);
  const alphabet = plan && plan.people > 0 ? (plan.alphabet.ucs2 > 0 ? 'ucs2' : 'gsm7') : own.alphabet;
  const replace = (character: string) => change({ words: draft.words.replaceAll(character, plainFor(character) ?? character) });
  const most = Math.max(1, ...(plan?.distribution.map((each) => each.people) ?? []));
  return (
    <div className="stack" style={{ gap: 10 }}>
      <div className="row between">
        <h2 id="words-label">Words</h2>
        <div className="row">
          <Button onClick={() => insert.current?.('{')}>Put in a field</Button>
          <Button onClick={() => setLinking(!linking)} aria-expanded={linking}>
            {link ? 'Link' : 'Add a link'}
          </Button>
        </div>
      </div>
      {linking && (
        <div className="row nowrap">
          <label className="row nowrap small">
            name{' '}
            <input
              className="field"
              style={{ width: 110 }}
              value={link?.name ?? 'more'}
              onChange={(event) =>
                change({
                  link: {
                    name: event.target.value.toLowerCase().replace(/[^a-z0-9_]/g, '') || 'more',
                    address: link?.address ?? '',
                  },
                })
              }
            />
          </label>
          <label className="row nowrap small grow">
            address{' '}
            <input
              className="field grow"
              type="url"
              placeholder="https://…"
              value={link?.address ?? ''}
              onChange={(event) =>
                change({ link: event.target.value === '' ? null : { name: link?.name ?? 'more', address: event.target.value } })
              }
            />
          </label>
          <Button disabled={!link?.address} onClick={() => insert.current?.(`{link ${link?.name ?? 'more'}}`)}>
            Put it in
          </Button>
        </div>
      )}
      <Editor
        value={draft.words}
        onChange={(words) => change({ words })}
        known={known}
        offers={offers}
        labelledBy="words-label"
        readOnly={false}
        handle={insert}
      />
      {(plan?.forcing ?? []).slice(0, 3).map((each) => (
        <div className="say small" key={each.character}>
          <span>
            <b>
              {each.character.trim() === ''
                ? 'A hidden character'
                : `${each.character}${NAMED[each.character] ? ` (${NAMED[each.character]})` : ''}`}
            </b>{' '}
            turns every text into extended characters
            {plan?.extended_cost && plan.extended_cost.parts > 0 ? (
              <>
                :{' '}
                <b>
                  {count(plan.extended_cost.parts)} more parts, {money(plan.extended_cost.cost_micro, plan.currency)}
                </b>
              </>
            ) : (
              ', without a part more'
            )}
          </span>
          {each.replacement !== null && (
            <Button sx={{ whiteSpace: 'nowrap', flex: 'none' }} onClick={() => replace(each.character)}>
              {each.replacement === '' ? 'Take it out' : `Use ${each.replacement} instead`}
            </Button>
          )}
        </div>
      ))}
      <div className="row between nowrap" style={{ alignItems: 'flex-start', gap: 16 }}>
        <div className="small stack" style={{ gap: 2 }}>
          <span>
            {alphabet === 'gsm7' ? 'plain' : 'extended'} characters, {LIMITS[alphabet].alone} in one part, then{' '}
            {LIMITS[alphabet].joined} a part <span className="soft">({alphabet === 'gsm7' ? 'GSM-7' : 'UCS-2'})</span>
          </span>
          <span aria-live="polite">
            {plan && plan.people > 0 ? (
              <>
                usual length {plan.units.usual}, longest {plan.units.longest}
                {plan.fallback > 0 ? ` · other words for ${people(plan.fallback)}` : ''}
              </>
            ) : (
              `${own.units} used, ${own.left} left`
            )}
          </span>
          <span>
            opt-out wording{' '}
            <Choose
              label="Opt-out wording"
              value={draft.opt_out}
              options={[
                ['in_text', 'in the text'],
                ['none', 'not added'],
              ]}
              onChange={(opt_out) => change({ opt_out })}
            />
            {draft.opt_out === 'in_text' && plan && <span className="soft"> {plan.opt_out_words}</span>}
          </span>
        </div>
        {plan && plan.people > 0 && (
          <div
            className="row nowrap"
            style={{ alignItems: 'flex-end', gap: 6, flex: 'none' }}
            role="img"
            aria-label={plan.distribution
              .map((each) => `${each.parts} ${each.parts === 1 ? 'part' : 'parts'}: ${people(each.people)}`)
              .join(', ')}
          >
            {plan.distribution.slice(0, 5).map((each) => (
              <div key={each.parts} className="small" style={{ minWidth: 84, whiteSpace: 'nowrap' }}>
                {each.parts} {each.parts === 1 ? 'part' : 'parts'} <b>{count(each.people)}</b>
                <div style={{ height: 3 + (27 * each.people) / most, background: 'var(--lake)' }} />
              </div>
            ))}
          </div>
        )}
      </div>
    </div>
  );
}
