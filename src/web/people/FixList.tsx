import { Button } from '@mui/material';
import type { ImportCounts, ImportSettings } from '../../core/api/imports';
import { count } from '../pieces/format';
import { showPhone } from '../pieces/phone';
import type { RowFilter } from './Bench';

/** What spreadsheets broke, by kind: before and after, applied or offered, and what cannot be fixed. */
export function FixList({
  counts,
  settings,
  open,
  change,
  see,
  importId,
}: {
  counts: ImportCounts;
  settings: ImportSettings;
  open: boolean;
  change: (part: Partial<ImportSettings>) => Promise<void>;
  see: (filter: RowFilter) => void;
  importId: number;
}) {
  const safe = counts.fixes.filter((fix) => fix.safe);
  const safeOn = safe.filter((fix) => fix.applied).reduce((sum, fix) => sum + fix.count, 0);
  const fixable = counts.fixes.filter((fix) => fix.fixable);
  const apply = (kinds: string[], on: boolean) =>
    void change({
      fixes: (on
        ? [...new Set([...settings.fixes, ...kinds])]
        : settings.fixes.filter((kind) => !kinds.includes(kind))) as ImportSettings['fixes'],
    });
  const lost = counts.reasons.reduce((sum, each) => sum + each.count, 0);
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
      {fixable.length === 0 && lost === 0 && (
        <p className="soft" style={{ marginTop: 8 }}>
          Nothing is broken in this file.
        </p>
      )}
      {fixable.map((fix) => (
        <div key={fix.kind} className="line-b stack" style={{ padding: '9px 0', gap: 3 }}>
          <div className="row between strong">
            <span>{fix.words}</span>
            <span className="fig">{count(fix.count)}</span>
          </div>
          <div className="small">
            <s className="soft">{fix.before}</s> → <b>{fix.after ? showPhone(fix.after) : '?'}</b>
          </div>
          <div className="row">
            {!fix.safe &&
              open &&
              (fix.applied ? (
                <Button onClick={() => apply([fix.kind], false)}>Undo</Button>
              ) : (
                <Button onClick={() => apply([fix.kind], true)}>
                  {fix.kind === 'two_numbers' ? `Text the first of ${count(fix.count)}` : `Apply to ${count(fix.count)}`}
                </Button>
              ))}
            <button type="button" className="way small" onClick={() => see({ fix: fix.kind })}>
              see {count(fix.count)}
            </button>
          </div>
          {fix.kind === 'two_numbers' && <span className="soft small">the other is kept as “second phone”</span>}
        </div>
      ))}
      {lost > 0 && (
        <div className="stack" style={{ padding: '9px 0', gap: 3 }}>
          <div className="row between strong brick">
            <span>Cannot be fixed</span>
            <span className="fig">{count(lost)}</span>
          </div>
          {counts.reasons.map((each) => (
            <span key={each.reason} className="small">
              {count(each.count)} {each.reason} <span className="soft">{each.example}</span>
            </span>
          ))}
          <span className="small">
            <a href={`/api/imports/${importId}/rejects.csv`} download>
              rejects file
            </a>
            , to correct and bring back
          </span>
        </div>
      )}
    </>
  );
}
