import { Button, TextField } from '@mui/material';
import type { ReactNode } from 'react';
import { REPLY_UNTIL, type FieldType } from '../../../core/merge/compile';
import { DEFAULT_PATTERN, formatDay } from '../../../core/merge/date-pattern';
import { movedDay, WEEKDAYS, type Move, type Unit } from '../../../core/merge/moved-day';
import type { FieldNode } from '../../../core/merge/syntax';
import { Choose, TypedValue } from '../../pieces/form/choices';
import { Row, Words } from '../../pieces/layout';
import { SmallWindow } from '../../pieces/SmallWindow';

/** How dates are written most: each is offered as it reads. */
const PATTERNS = [
  'EEE, MMM d',
  'MMM d',
  'EEEE',
  'EEEE, MMMM d',
  'MMMM d, yyyy',
  'd MMMM',
  'EEE d MMMM',
  'MM/dd/yyyy',
  'dd.MM.yyyy',
];
/** Always there: words instead would never be used. */
const NEVER_MISSING = new Set(['send_date', REPLY_UNTIL, 'sender_name', 'workspace_name']);

type Way = 'on' | 'after' | 'before' | 'next';
const wayOf = (move: Move | undefined): Way => (!move ? 'on' : 'next' in move ? 'next' : move.by < 0 ? 'before' : 'after');

/** A chip, changed where it stands: how a date is written and moved, and the words for those who have no value. */
export function ChipForm({
  node,
  label,
  type,
  place,
  today,
  language,
  change,
  close,
}: {
  node: FieldNode;
  label: string;
  type: FieldType | undefined;
  /** Where on the screen, px. */
  place: { left: number; top: number };
  /** `YYYY-MM-DD`, for which dates are shown. */
  today: string;
  language: string;
  /** Undefined takes it out. */
  change: (node: FieldNode | undefined) => void;
  close: () => void;
}): ReactNode {
  const pattern = node.pattern ?? DEFAULT_PATTERN;
  const day = node.move ? movedDay(today, node.move) : today;
  const { move } = node;
  const by = move && 'by' in move ? move : { by: 7, unit: 'day' as Unit };
  const setWay = (way: Way) =>
    change({
      ...node,
      move:
        way === 'on'
          ? undefined
          : way === 'next'
            ? { next: 5 }
            : { unit: by.unit, by: (way === 'before' ? -1 : 1) * Math.abs(by.by) },
    });
  return (
    <SmallWindow label={`Change ${label}`} at={place} close={close} width={320} pad="12px 14px" gap={10}>
      <Words strong>{label}</Words>
      {type === 'date' && (
        <DateWays pattern={pattern} day={day} language={language} change={change} node={node} move={move} setWay={setWay} />
      )}
      {!NEVER_MISSING.has(node.name) && (
        <TextField
          label="Words for those who have none"
          value={node.fallback ?? ''}
          onChange={(event) => change({ ...node, fallback: event.target.value === '' ? undefined : event.target.value })}
          onKeyDown={(event) => event.key === 'Enter' && close()}
          helperText="Left empty, everyone has to have one."
        />
      )}
      <Row between>
        <Button
          variant="quiet"
          onClick={() => {
            change(undefined);
            close();
          }}
        >
          Take it out
        </Button>
        <Button variant="contained" onClick={close}>
          Done
        </Button>
      </Row>
    </SmallWindow>
  );
}

/** How a date is written, and which day it is. */
function DateWays({
  pattern,
  day,
  language,
  change,
  node,
  move,
  setWay,
}: {
  pattern: string;
  day: string;
  language: string;
  change: (node: FieldNode | undefined) => void;
  node: FieldNode;
  move: Move | undefined;
  setWay: (way: Way) => void;
}) {
  return (
    <>
      <>
        <Row base gap={6}>
          written
          <Choose
            label="How the date is written"
            value={pattern}
            options={[...new Set([...PATTERNS, pattern])].map((each) => [each, formatDay(day, each, language)] as const)}
            onChange={(next) => change({ ...node, pattern: next })}
          />
        </Row>
        {node.name === REPLY_UNTIL && (
          <Words soft small>
            Set with the sender, in Setup.
          </Words>
        )}
        {node.name !== REPLY_UNTIL && (
          <Row base gap={6}>
            <Choose
              label="Which day"
              value={wayOf(move)}
              options={[
                ['on', 'that very day'],
                ['after', 'later by'],
                ['before', 'earlier by'],
                ['next', 'the next'],
              ]}
              onChange={setWay}
            />
            {move && 'by' in move && (
              <>
                <TypedValue
                  label="How many"
                  type="number"
                  value={Math.abs(move.by)}
                  input={{ min: 1, max: 999 }}
                  onChange={(typed) => {
                    const many = Math.round(Number(typed));
                    if (many >= 1 && many <= 999) change({ ...node, move: { ...move, by: Math.sign(move.by) * many } });
                  }}
                />
                <Choose
                  label="Days, weeks or months"
                  value={move.unit}
                  options={[
                    ['day', 'days'],
                    ['week', 'weeks'],
                    ['month', 'months'],
                  ]}
                  onChange={(unit) => change({ ...node, move: { ...move, unit } })}
                />
              </>
            )}
            {move && 'next' in move && (
              <Choose
                label="Weekday"
                value={String(move.next)}
                options={WEEKDAYS.map((name, i) => [String(i + 1), `${name.charAt(0).toUpperCase()}${name.slice(1)}`] as const)}
                onChange={(next) => change({ ...node, move: { next: Number(next) } })}
              />
            )}
          </Row>
        )}
      </>
    </>
  );
}
