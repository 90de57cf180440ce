import type { ImportCounts } from '../../../core/api/people/imports';
import { Button } from '@mui/material';
import type { ImportSettings } from '../../../core/api/people/import-settings';
import { imports } from '../../../core/api/people/imports';
import { fileAt } from '../../api/client';
import { count } from '../../pieces/format';
import { showPhone } from '../../pieces/phone';

import type { Change, RowFilter, Staged } from './staged';
import { Bit, Column, Row, Words } from '../../pieces/layout';
import { Way } from '../../pieces/ways';
import { Choose } from '../../pieces/form/choices';
import { OtherNames } from './OtherNames';

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
  const others = counts.other_names ?? 0;
  const nothing = fixable.length === 0 && lost === 0 && blanks.length === 0 && others === 0;
  return (
    <>
      <h2>To fix</h2>
      {safe.length > 0 && (
        <Row between under pad="8px 0">
          <Bit strong small>
            {safeOn > 0 ? `${count(safeOn)} safe fixes applied` : 'Safe fixes undone'}
          </Bit>
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
        </Row>
      )}
      {nothing && (
        <Words as="p" soft above={8}>
          Nothing is broken in this file.
        </Words>
      )}
      <Fixes fixable={fixable} settings={settings} open={open} change={change} apply={apply} see={see} />
      {others > 0 && <OtherNames staged={staged} change={open ? change : undefined} see={see} />}
      <ToSay
        counts={counts}
        open={open}
        settings={settings}
        change={change}
        blanks={blanks}
        see={see}
        lost={lost}
        reasons={reasons}
      />
      {counts.rejected > 0 && (
        <Words as="p" small pad="6px 0">
          rejects file:{' '}
          <Way href={fileAt(imports.rejectsCsv, { params: { id: staged.id } })} download>
            CSV
          </Way>
          ,{' '}
          <Way href={fileAt(imports.rejectsXlsx, { params: { id: staged.id } })} download>
            workbook
          </Way>
          , to correct and bring back
        </Words>
      )}
      {facts.notes.map((note) => (
        <Words as="p" soft small pad="4px 0" key={note}>
          {note}
        </Words>
      ))}
    </>
  );
}

/** Each kind of fix, with how many it is and what it does. */
function Fixes({
  fixable,
  settings,
  open,
  change,
  apply,
  see,
}: {
  fixable: ImportCounts['fixes'];
  settings: ImportSettings;
  open: boolean;
  change: Change;
  apply: (kinds: string[], on: boolean) => void;
  see: (filter: RowFilter) => void;
}) {
  return (
    <>
      {fixable.map((fix) => {
        const all = settings.fixes.includes(fix.kind as ImportSettings['fixes'][number]);
        return (
          <Column under pad="9px 0" gap={3} key={fix.kind}>
            <Row between strong>
              <span>{fix.words}</span>
              <Bit fig>{count(fix.count)}</Bit>
            </Row>
            {SAYS[fix.kind] && (
              <Bit soft small>
                {SAYS[fix.kind]}
              </Bit>
            )}
            <Words small>
              <Bit as="s" soft>
                {fix.before}
              </Bit>{' '}
              → <b>{fix.after ? showPhone(fix.after) : '?'}</b>
            </Words>
            {fix.kind === 'two_numbers' && open && (
              <Bit small>
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
              </Bit>
            )}
            <Row>
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
              <Way small onClick={() => see({ fix: fix.kind })}>
                see {count(fix.count)}
              </Way>
              {!all && fix.applied > 0 && !fix.safe && (
                <Bit soft small>
                  {count(fix.applied)} applied
                </Bit>
              )}
            </Row>
          </Column>
        );
      })}
    </>
  );
}

/** What only somebody can say: which day comes first, which century, what an empty cell means, and what is lost. */
function ToSay({
  counts,
  open,
  settings,
  change,
  blanks,
  see,
  lost,
  reasons,
}: {
  counts: ImportCounts;
  open: boolean;
  settings: ImportSettings;
  change: Change;
  blanks: ImportCounts['blanks'];
  see: (filter: RowFilter) => void;
  lost: number;
  reasons: ImportCounts['reasons'];
}) {
  return (
    <>
      {counts.ambiguous_days > 0 && open && (
        <Column under small pad="9px 0" gap={3}>
          <Bit strong>Dates that read two ways, {count(counts.ambiguous_days)}</Bit>
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
        </Column>
      )}
      {(blanks.length > 0 || settings.born_century !== undefined) && (
        <Column under pad="9px 0" gap={3}>
          <Bit strong>Comes in empty</Bit>
          {blanks.slice(0, 8).map((each) => (
            <Bit small key={each.what}>
              <Way onClick={() => see({ blank: each.what })}>{count(each.count)}</Way> {each.what} <Bit soft>{each.example}</Bit>
            </Bit>
          ))}
          {open && (settings.born_century !== undefined || blanks.some((each) => each.what.includes('19.. or 20..'))) && (
            <Bit small>
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
            </Bit>
          )}
        </Column>
      )}
      {lost > 0 && (
        <Column pad="9px 0" gap={3}>
          <Row between strong brick>
            <span>Cannot be fixed</span>
            <Bit fig>{count(lost)}</Bit>
          </Row>
          {reasons.map((each) => (
            <Bit small key={each.reason}>
              {count(each.count)} {each.reason} <Bit soft>{each.example}</Bit>
            </Bit>
          ))}
        </Column>
      )}
    </>
  );
}
