import { Button } from '@mui/material';
import type { ImportSettings } from '../../core/api/imports';
import { count } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import { Choose } from '../pieces/small';
import type { Change, RowFilter, Staged } from './staged';

const SAYS: Record<string, string> = {
  scientific: 'every digit is still in the file',
  lost_plus: 'a complete number without its plus',
  lost_zero: 'spreadsheets drop the first zero',
};

/** What spreadsheets broke, by kind: before and after, applied or offered, and what cannot be fixed. */
export function FixList({
  staged,
  open,
  change,
  see,
}: {
  staged: Staged;
  open: boolean;
  change: Change;
  see: (filter: RowFilter) => void;
}) {
  const { counts, settings, facts } = staged;
  const fixes = counts.fixes ?? [];
  const safe = fixes.filter((fix) => fix.safe);
  const safeOn = safe.reduce((sum, fix) => sum + fix.applied, 0);
  const fixable = fixes.filter((fix) => fix.fixable);
  const apply = (kinds: string[], on: boolean) =>
    void change({
      fixes: (on
        ? [...new Set([...settings.fixes, ...kinds])]
        : settings.fixes.filter((kind) => !kinds.includes(kind))) as ImportSettings['fixes'],
    });
  const reasons = counts.reasons ?? [];
  const lost = reasons.reduce((sum, each) => sum + each.count, 0);
  const blanks = counts.blanks ?? [];
  const nothing = fixable.length === 0 && lost === 0 && blanks.length === 0;
  return (
    <>
      <h2>To fix</h2>
      {safe.length > 0 && (
        <div className="row between line-b" style={{ padding: '8px 0' }}>
          <span className="strong small">{safeOn > 0 ? `${count(safeOn)} safe fixes applied` : 'Safe fixes undone'}</span>
          {open && (
            <Button
              onClick={() =>
                apply(
                  safe.map((fix) => fix.kind),
                  safeOn === 0,
                )
              }
            >
              {safeOn > 0 ? 'Undo' : 'Apply'}
            </Button>
          )}
        </div>
      )}
      {nothing && (
        <p className="soft" style={{ marginTop: 8 }}>
          Nothing is broken in this file.
        </p>
      )}
      {fixable.map((fix) => {
        const all = settings.fixes.includes(fix.kind as ImportSettings['fixes'][number]);
        return (
          <div key={fix.kind} className="line-b stack" style={{ padding: '9px 0', gap: 3 }}>
            <div className="row between strong">
              <span>{fix.words}</span>
              <span className="fig">{count(fix.count)}</span>
            </div>
            {SAYS[fix.kind] && <span className="soft small">{SAYS[fix.kind]}</span>}
            <div className="small">
              <s className="soft">{fix.before}</s> → <b>{fix.after ? showPhone(fix.after) : '?'}</b>
            </div>
            {fix.kind === 'two_numbers' && open && (
              <span className="small">
                text the{' '}
                <Choose
                  label="Of two numbers, text the"
                  value={settings.two_numbers}
                  options={[
                    ['first', 'first'],
                    ['last', 'last'],
                  ]}
                  onChange={(two_numbers) => void change({ two_numbers })}
                />
                , keep the other as “second phone”
              </span>
            )}
            <div className="row">
              {!fix.safe &&
                open &&
                (all ? (
                  <Button onClick={() => apply([fix.kind], false)}>Undo</Button>
                ) : (
                  <Button onClick={() => apply([fix.kind], true)}>
                    {fix.kind === 'two_numbers'
                      ? `Text the ${settings.two_numbers} of ${count(fix.count)}`
                      : `Apply to ${count(fix.count)}`}
                  </Button>
                ))}
              <button type="button" className="way small" onClick={() => see({ fix: fix.kind })}>
                see {count(fix.count)}
              </button>
              {!all && fix.applied > 0 && !fix.safe && <span className="soft small">{count(fix.applied)} applied</span>}
            </div>
          </div>
        );
      })}
      {counts.ambiguous_days > 0 && open && (
        <div className="line-b stack small" style={{ padding: '9px 0', gap: 3 }}>
          <span className="strong">Dates that read two ways, {count(counts.ambiguous_days)}</span>
          <span>
            3/9/2027 is{' '}
            <Choose
              label="Order of day and month"
              value={settings.day_first ? 'day' : 'month'}
              options={[
                ['month', 'March 9'],
                ['day', 'September 3'],
              ]}
              onChange={(order) => void change({ day_first: order === 'day' })}
            />
          </span>
        </div>
      )}
      {(blanks.length > 0 || settings.born_century !== undefined) && (
        <div className="line-b stack" style={{ padding: '9px 0', gap: 3 }}>
          <span className="strong">Comes in empty</span>
          {blanks.slice(0, 8).map((each) => (
            <span key={each.what} className="small">
              <button type="button" className="way" onClick={() => see({ blank: each.what })}>
                {count(each.count)}
              </button>{' '}
              {each.what} <span className="soft">{each.example}</span>
            </span>
          ))}
          {open && (settings.born_century !== undefined || blanks.some((each) => each.what.includes('19.. or 20..'))) && (
            <span className="small">
              A birth year of two digits means{' '}
              <Choose
                label="Century of birth years"
                value={settings.born_century ?? ''}
                options={[
                  ['', 'not said'],
                  ['19', '19..'],
                  ['20', '20..'],
                ]}
                onChange={(century) => void change({ born_century: century === '' ? undefined : century })}
              />
            </span>
          )}
        </div>
      )}
      {lost > 0 && (
        <div className="stack" style={{ padding: '9px 0', gap: 3 }}>
          <div className="row between strong brick">
            <span>Cannot be fixed</span>
            <span className="fig">{count(lost)}</span>
          </div>
          {reasons.map((each) => (
            <span key={each.reason} className="small">
              {count(each.count)} {each.reason} <span className="soft">{each.example}</span>
            </span>
          ))}
        </div>
      )}
      {counts.rejected > 0 && (
        <p className="small" style={{ padding: '6px 0' }}>
          rejects file:{' '}
          <a href={`/api/imports/${staged.id}/rejects.csv`} download>
            CSV
          </a>
          ,{' '}
          <a href={`/api/imports/${staged.id}/rejects.xlsx`} download>
            workbook
          </a>
          , to correct and bring back
        </p>
      )}
      {facts.notes.map((note) => (
        <p key={note} className="soft small" style={{ padding: '4px 0' }}>
          {note}
        </p>
      ))}
    </>
  );
}
