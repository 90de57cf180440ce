import { useState } from 'react';
import type { SourceChoice } from '../../../core/api/people/imports';
import { count } from '../../pieces/format';

import type { Change, Staged } from './staged';
import { ForBroadcast, useForBroadcast } from './for-broadcast';
import { Bit, End, Head } from '../../pieces/layout';
import { Way } from '../../pieces/ways';
import { Choose, TypedValue } from '../../pieces/form/choices';

const ENCODINGS = [
  ['utf-8', 'UTF-8'],
  ['windows-1252', 'Windows-1252'],
  ['utf-16le', 'UTF-16'],
  ['utf-16be', 'UTF-16, big end first'],
] as const;

const DELIMITERS = [
  [',', 'commas'],
  [';', 'semicolons'],
  ['\t', 'tabs'],
  ['|', 'upright bars'],
] as const;

/** Which file, which sheet or encoding, where the headings are, which rows. */
export function BenchHead({
  staged,
  open,
  change,
  reread,
}: {
  staged: Staged;
  open: boolean;
  change: Change;
  reread: (source: SourceChoice) => Promise<void>;
}) {
  const { settings, facts } = staged;
  const goal = useForBroadcast();
  const first = Math.max(settings.heading_row + 1, settings.first_row) + 1;
  const last = (settings.last_row ?? facts.last ?? 0) + 1;
  return (
    <Head>
      <h1>Bringing in people</h1>
      <Bit soft>
        {staged.file_name}
        {open && (facts.sheets?.length ?? 0) > 1 && (
          <>
            , sheet{' '}
            <Choose
              label="Sheet"
              value={facts.sheet ?? ''}
              options={(facts.sheets ?? []).map(
                (sheet) => [sheet.name, sheet.hidden ? `${sheet.name} (hidden)` : sheet.name] as const,
              )}
              onChange={(sheet) => void reread({ sheet })}
            />
          </>
        )}
        {open && facts.encoding && !facts.pasted && (
          <>
            , read as{' '}
            <Choose
              label="Encoding"
              value={facts.encoding}
              options={ENCODINGS}
              onChange={(encoding) => void reread({ encoding: ENCODINGS.find(([known]) => known === encoding)?.[0] })}
            />
          </>
        )}
        {open && facts.delimiter && (
          <>
            , columns split at{' '}
            <Choose
              label="Delimiter"
              value={facts.delimiter}
              options={
                DELIMITERS.some(([known]) => known === facts.delimiter)
                  ? DELIMITERS
                  : [...DELIMITERS, [facts.delimiter, `“${facts.delimiter}”`] as const]
              }
              onChange={(delimiter) => void reread({ delimiter: DELIMITERS.find(([known]) => known === delimiter)?.[0] })}
            />
          </>
        )}
        {open && facts.format !== 'vcard' && (
          <>
            , headings in row{' '}
            <Choose
              label="Row of the headings"
              value={String(settings.heading_row)}
              options={[
                ['-1', 'none'],
                ...Array.from(
                  { length: Math.min(12, (facts.last ?? 0) + 1) },
                  (_, row) => [String(row), String(row + 1)] as const,
                ),
              ]}
              onChange={(row) => void change({ heading_row: Number(row) })}
            />
          </>
        )}
        {open && (
          <>
            , rows{' '}
            <RowNumber
              label="First row"
              value={first}
              set={(row) => void change({ first_row: Math.max(0, row - 1) })}
              key={`first${first}`}
            />{' '}
            to{' '}
            <RowNumber
              label="Last row"
              value={last}
              set={(row) => void change({ last_row: row >= (facts.last ?? 0) + 1 ? null : Math.max(0, row - 1) })}
              key={`last${last}`}
            />
          </>
        )}
      </Bit>
      <ForBroadcast goal={goal} />
      <End soft small>
        {open && goal.id === undefined ? 'Nothing is written until you say so' : ''} <Way to="/people/bring-in">past imports</Way>
      </End>
    </Head>
  );
}

function RowNumber({ label, value, set }: { label: string; value: number; set: (row: number) => void }) {
  const [typed, setTyped] = useState<string>();
  const take = () => {
    const row = Number((typed ?? '').replace(/\D/g, ''));
    setTyped(undefined);
    if (row > 0 && row !== value) set(row);
  };
  return (
    <TypedValue
      label={label}
      input={{ inputMode: 'numeric' }}
      value={typed ?? count(value)}
      onChange={setTyped}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
    />
  );
}
