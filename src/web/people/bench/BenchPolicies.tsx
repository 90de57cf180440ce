import type { ImportCounts } from '../../../core/api/people/imports';
import { Autocomplete, Button, TextField } from '@mui/material';
import { useState } from 'react';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import { count } from '../../pieces/format';

import type { Change, Staged } from './staged';
import type { Sources } from '../sources';
import { Bit, Column, Row } from '../../pieces/layout';
import { Way } from '../../pieces/ways';
import { Choose } from '../../pieces/form/choices';
import { Field } from '../../pieces/form/Field';

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
    <Column gap={7} small>
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
      <ToList
        sources={sources}
        list={list}
        setList={setList}
        settings={settings}
        existing={existing}
        change={change}
        counts={counts}
      />
      <Row nowrap>
        <Bit fixed>Tags for all</Bit>
        <Field
          label="Tags for all"
          placeholder="none"
          value={tags ?? settings.tags.join(', ')}
          onChange={setTags}
          onBlur={() => {
            const next = (tags ?? '').split(/\s*,\s*/).filter((tag) => tag !== '');
            if (tags !== undefined && next.join() !== settings.tags.join()) void change({ tags: next });
          }}
        />
      </Row>
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
        <Bit small>
          Everyone else in the file agreed: {settings.consent_all.how}
          {settings.consent_all.evidence ? `, ${settings.consent_all.evidence}` : ''}.{' '}
          <Way onClick={() => void change({ consent_all: null })}>take that back</Way>
        </Bit>
      ) : (
        <Way small aria-expanded={stating} onClick={() => setStating(!stating)}>
          state consent for the whole file
        </Way>
      )}
      {stating && !settings.consent_all && (
        <StateConsent
          done={(consent_all) => {
            setStating(false);
            void change({ consent_all });
          }}
        />
      )}
      {counts.opted_out > 0 && <Bit soft>{count(counts.opted_out)} opted out before and stay out.</Bit>}
    </Column>
  );
}

/** The list they come onto, and who of it is not in the file. */
function ToList({
  sources,
  list,
  setList,
  settings,
  existing,
  change,
  counts,
}: {
  sources: Sources | undefined;
  list: string;
  setList: (list: string) => void;
  settings: ImportSettings;
  existing: boolean;
  change: Change;
  counts: ImportCounts;
}) {
  return (
    <>
      <Row nowrap>
        <Bit fixed>Add to list</Bit>
        <Autocomplete
          freeSolo
          disableClearable
          fullWidth
          options={(sources?.lists ?? []).map((each) => each.name)}
          inputValue={list}
          onInputChange={(_event, typed) => setList(typed)}
          onBlur={() => list !== settings.list && existing && void change({ list })}
          renderInput={(params) => (
            <TextField
              {...params}
              hiddenLabel
              placeholder="no list"
              slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps.htmlInput, 'aria-label': 'Add to list' } }}
            />
          )}
        />
      </Row>
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
    </>
  );
}

function StateConsent({ done }: { done: (all: NonNullable<ImportSettings['consent_all']>) => void }) {
  const [all, setAll] = useState({ how: 'paper form', evidence: '', wording: '' });
  const input = (name: 'how' | 'evidence' | 'wording', label: string, placeholder: string) => (
    <Column small gap={1}>
      {label}
      <Field label={label} placeholder={placeholder} value={all[name]} onChange={(typed) => setAll({ ...all, [name]: typed })} />
    </Column>
  );
  return (
    <Column
      as="form"
      under
      gap={6}
      below={8}
      onSubmit={(event: React.FormEvent) => {
        event.preventDefault();
        done(all);
      }}
    >
      {input('how', 'How they agreed', 'paper form, web form…')}
      {input('evidence', 'Where that can be seen', 'binder 3, May 2026')}
      {input('wording', 'The wording they agreed to', '')}
      <span>
        <Button type="submit" disabled={all.how.trim() === ''}>
          State it
        </Button>
      </span>
      <Bit soft small>
        Whoever said no in their own words stays out.
      </Bit>
    </Column>
  );
}
