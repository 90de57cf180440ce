import { Button } from '@mui/material';
import { useState } from 'react';
import type { ImportSettings } from '../../core/api/imports';
import { count } from '../pieces/format';
import { Choose } from '../pieces/small';
import type { Change, Staged } from './staged';
import type { Sources } from './sources';

/** By whose choice: people already here, shared numbers, fixed lines, the list, tags, consent. */
export function Policies({
  staged,
  sources,
  change,
  list,
  setList,
}: {
  staged: Staged;
  sources: Sources | undefined;
  change: Change;
  list: string;
  setList: (list: string) => void;
}) {
  const { settings, counts } = staged;
  const [tags, setTags] = useState<string>();
  const [stating, setStating] = useState(false);
  const fixed = Math.max(counts.fixed_lines, counts.set_aside);
  const existing = (sources?.lists ?? []).some((each) => each.name === list.trim());
  return (
    <div className="stack" style={{ gap: 7, fontSize: 14 }}>
      <span>
        Already here:{' '}
        <Choose
          label="People already here"
          value={settings.already}
          options={[
            ['fill_blanks', 'fill blanks only'],
            ['overwrite', 'overwrite from the file'],
            ['skip', 'leave as they are'],
          ]}
          onChange={(already) => void change({ already })}
        />
      </span>
      <span>
        Same number, other name:{' '}
        <Choose
          label="Same number under another name"
          value={settings.shared_number}
          options={[
            ['one_person', 'the same person'],
            ['by_name', 'another who shares it'],
          ]}
          onChange={(shared_number) => void change({ shared_number })}
        />
      </span>
      {(counts.fixed_lines > 0 || counts.set_aside > 0) && (
        <span>
          {count(fixed)} fixed {fixed === 1 ? 'line' : 'lines'}:{' '}
          <Choose
            label="Fixed lines"
            value={settings.landlines}
            options={[
              ['keep', 'bring in, never text'],
              ['leave_out', 'leave out'],
            ]}
            onChange={(landlines) => void change({ landlines })}
          />
        </span>
      )}
      <label className="row base nowrap">
        Add to list{' '}
        <input
          className="field grow"
          list="lists"
          placeholder="no list"
          value={list}
          onChange={(event) => setList(event.target.value)}
          onBlur={() => list !== settings.list && existing && void change({ list })}
          style={{ width: 130 }}
        />
      </label>
      <datalist id="lists">
        {(sources?.lists ?? []).map((each) => (
          <option key={each.id} value={each.name} />
        ))}
      </datalist>
      {existing && counts.missing > 0 && list === settings.list && (
        <span>
          On that list, not in this file, {count(counts.missing)}:{' '}
          <Choose
            label="On that list and not in this file"
            value={settings.missing}
            options={[
              ['keep', 'keep'],
              ['take_off', 'take off the list'],
            ]}
            onChange={(missing) => void change({ missing })}
          />
        </span>
      )}
      <label className="row base nowrap">
        Tags for all{' '}
        <input
          className="field grow"
          placeholder="none"
          value={tags ?? settings.tags.join(', ')}
          onChange={(event) => setTags(event.target.value)}
          onBlur={() => {
            const next = (tags ?? '').split(/\s*,\s*/).filter((tag) => tag !== '');
            if (tags !== undefined && next.join() !== settings.tags.join()) void change({ tags: next });
          }}
          style={{ width: 120 }}
        />
      </label>
      <span>
        {settings.match.includes('consent') ? 'Consent “yes” is for ' : 'Consent is for '}
        <Choose
          label="Purpose of the consent"
          value={settings.consent_purpose}
          options={[
            ['service', 'service notices'],
            ['marketing', 'marketing'],
          ]}
          onChange={(consent_purpose) => void change({ consent_purpose })}
        />
      </span>
      {settings.consent_all ? (
        <span className="small">
          Everyone else in the file agreed: {settings.consent_all.how}
          {settings.consent_all.evidence ? `, ${settings.consent_all.evidence}` : ''}.{' '}
          <button type="button" className="way" onClick={() => void change({ consent_all: null })}>
            take that back
          </button>
        </span>
      ) : (
        <button type="button" className="way small" aria-expanded={stating} onClick={() => setStating(!stating)}>
          state consent for the whole file
        </button>
      )}
      {stating && !settings.consent_all && (
        <StateConsent
          done={(consent_all) => {
            setStating(false);
            void change({ consent_all });
          }}
        />
      )}
      {counts.opted_out > 0 && <span className="soft">{count(counts.opted_out)} opted out before and stay out.</span>}
    </div>
  );
}

function StateConsent({ done }: { done: (all: NonNullable<ImportSettings['consent_all']>) => void }) {
  const [all, setAll] = useState({ how: 'paper form', evidence: '', wording: '' });
  const input = (name: 'how' | 'evidence' | 'wording', label: string, placeholder: string) => (
    <label className="stack small" style={{ gap: 1 }}>
      {label}
      <input
        className="field"
        placeholder={placeholder}
        value={all[name]}
        onChange={(event) => setAll({ ...all, [name]: event.target.value })}
      />
    </label>
  );
  return (
    <form className="stack line-b" style={{ gap: 6, paddingBottom: 8 }} onSubmit={(event) => (event.preventDefault(), done(all))}>
      {input('how', 'How they agreed', 'paper form, web form…')}
      {input('evidence', 'Where that can be seen', 'binder 3, May 2026')}
      {input('wording', 'The wording they agreed to', '')}
      <span>
        <Button type="submit" disabled={all.how.trim() === ''}>
          State it
        </Button>
      </span>
      <span className="soft small">Whoever said no in their own words stays out.</span>
    </form>
  );
}
