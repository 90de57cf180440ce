import { outcomes, type OutcomesQuery } from '../../core/api/sending/outcomes';
import { addDays } from '../../core/people/day';
import { wallClock } from '../../core/zones';
import { useGet } from '../api/client';
import { useDesk } from '../api/session';
import type { InAddress } from '../pieces/address';
import { Choose } from '../pieces/form/choices';
import { DateField } from '../pieces/form/dates';
import { Field } from '../pieces/form/Field';
import { Bit, Row } from '../pieces/layout';
import { Way } from '../pieces/ways';

/** What narrows outcomes, as it stands in the address. */
export const NARROWED_BY = ['search', 'period', 'from', 'to', 'label', 'sender', 'account', 'list'];
const PERIODS = [
  ['', 'any time'],
  ['7', 'the last 7 days'],
  ['30', 'the last 30 days'],
  ['90', 'the last 90 days'],
  ['365', 'the last year'],
  ['between', 'between two days'],
] as const;

/** The query that an address stands for. @param today where the workspace is */
export function queryOf(narrowed: InAddress, today: string): Omit<OutcomesQuery, 'skip'> {
  const { period, from, to, label, sender, account, list, search } = narrowed;
  const days = Number(period);
  const number = (text: string | undefined) => (text ? Number(text) : undefined);
  return {
    from: period === 'between' ? from || undefined : days > 0 ? addDays(today, 1 - days) : undefined,
    to: period === 'between' ? to || undefined : undefined,
    label: label || undefined,
    sender: number(sender),
    account: number(account),
    list: number(list),
    search: search?.trim() || undefined,
  };
}

/** Which runs: by time, label, sender, list, who sent them, and words. */
export function Which({ narrowed, change }: { narrowed: InAddress; change: (part: InAddress) => void }) {
  const { workspace, offset } = useDesk();
  const today = wallClock(Date.now() + offset, workspace.zone).date;
  const which = useGet(outcomes.which, {}, { keep: true }).data;
  const choose = (key: string, said: string, any: string, all: readonly (readonly [string, string])[]) =>
    all.length > 0 && (
      <Choose
        label={said}
        value={narrowed[key] ?? ''}
        options={[['', any], ...all]}
        onChange={(value) => change({ [key]: value })}
      />
    );
  const named = (all: readonly { id: number; name: string }[] | undefined) =>
    (all ?? []).map(({ id, name }) => [String(id), name] as const);
  return (
    <Row gap={14} base small>
      <Bit width={200}>
        <Field
          label="Find by name or words"
          placeholder="Name or words"
          value={narrowed.search ?? ''}
          onChange={(search) => change({ search })}
        />
      </Bit>
      <Choose
        label="When"
        value={narrowed.period ?? ''}
        options={PERIODS}
        onChange={(period) =>
          change(
            period === 'between' ? { period, from: narrowed.from || addDays(today, -29), to: narrowed.to || today } : { period },
          )
        }
      />
      {narrowed.period === 'between' && (
        <>
          <DateField inLine label="From this day" value={narrowed.from ?? ''} onChange={(from) => change({ from })} />
          to
          <DateField inLine label="To this day" value={narrowed.to ?? ''} onChange={(to) => change({ to })} />
        </>
      )}
      {choose(
        'label',
        'Label',
        'any label',
        (which?.labels ?? []).map((label) => [label, label] as const),
      )}
      {choose('list', 'List', 'any list', named(which?.lists))}
      {choose('sender', 'Sender', 'any sender', named(which?.senders))}
      {choose('account', 'Sent by', 'by anyone', named(which?.accounts))}
      {Object.values(narrowed).some((value) => value !== '') && (
        <Way
          small
          onClick={() => change({ search: '', period: '', from: '', to: '', label: '', sender: '', account: '', list: '' })}
        >
          all runs
        </Way>
      )}
    </Row>
  );
}
