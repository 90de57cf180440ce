import { looksAtActivity, type Condition } from '../../../core/audience/condition';
import { BUILT_IN, type FieldType } from '../../../core/merge/compile';
import type { PlanCodes } from '../../../core/plan/words/codes';
import type { DeskNumber } from '../../../core/plan/reach/copies';
import type { Rate } from '../../../core/plan/money/destinations';
import type { Draft } from '../../../core/plan/draft/draft';
import type { PlanSender, PlanWorkspace } from '../../../core/plan/reach/person';
import { mergeBusy, type Busy } from '../../../core/plan/times/timetable';
import { wallClock } from '../../../core/zones';
import { codesFor } from '../../codes/for-others';
import type { Queryable } from '../../db/db';
import { PUBLIC_ADDRESS, whoGetsCopies } from '../../setup/for-others';
import { outcomeVersion } from '../sources/named-by-run';

/** What every plan of the office is made in: its settings, senders, rate card, fields, and who gets copies. */
export interface Surroundings {
  /** The audience's version, which every writer moves. */
  version: string;
  workspace: PlanWorkspace;
  senders: PlanSender[];
  types: Map<string, FieldType>;
  rates: Rate[];
  desk: DeskNumber[];
}

/** Reads them. */
export async function surroundings(db: Queryable): Promise<Surroundings> {
  const version = (
    await db.query<{ version: string }>(
      // in one statement: what is trimmed meanwhile is counted once
      `SELECT count(*) + coalesce((SELECT changes FROM audience_trimmed), 0) || '-' || coalesce(max(id), 0) AS version FROM audience_change`,
    )
  ).rows[0].version;
  const workspace = (
    await db.query<PlanWorkspace>(
      `SELECT name, zone, currency, languages, quiet_from, quiet_to, hours, ${PUBLIC_ADDRESS} AS public_address,
         coalesce(carrier_host, '') = '' AS practice, notices, carrier_at_once AS at_once, opt_out_wording, opt_out_link_wording FROM workspace`,
    )
  ).rows[0];
  const senders = (
    await db.query<PlanSender>(`SELECT id, name, kind, address, parts_per_second, reply_days FROM sender ORDER BY id`)
  ).rows;
  const rates = (await db.query<Rate>(`SELECT prefix, destination, price_micro FROM rate ORDER BY prefix`)).rows;
  const { rows } = await db.query<{ slug: string; type: FieldType; about: string }>(
    `SELECT slug, type, about FROM field_def ORDER BY about, slug`,
  );
  const types = new Map<string, FieldType>([
    ...BUILT_IN.map((field): [string, FieldType] => [field.slug, field.type]),
    ['ready_text', 'text'],
    ['dependants.given_name', 'text'],
    ['dependants.family_name', 'text'],
    ...rows.map((row): [string, FieldType] =>
      // of several dependants the values are joined, so whatever they are, together they are words
      row.about === 'dependant' ? [`dependants.${row.slug}`, 'text'] : [row.slug, row.type],
    ),
  ]);
  return { version, workspace, senders, rates, types, desk: await whoGetsCopies(db) };
}

/** Everything a plan depends on but the moment; equal keys are equal plans. */
export async function planKey(
  db: Queryable,
  draft: Draft,
  around: Surroundings,
  codes: PlanCodes | undefined,
  now: number,
): Promise<string> {
  const { version, workspace, senders, rates, types, desk } = around;
  return JSON.stringify([
    draft,
    await audienceVersion(db, draft, version),
    workspace,
    senders,
    rates,
    desk,
    [...types],
    wallClock(now, workspace.zone).date,
    codes ? [codes.name, codes.free, codes.dummy, codes.reserved.length, codes.reserved[0], codes.reserved.at(-1)] : null,
    await busyOf(db, draft.sender_id, now),
  ]);
}

/** The codes that this holder's broadcast may give, where its words give any. */
export async function codesOf(db: Queryable, draft: Draft, holder: string, now: number): Promise<PlanCodes | undefined> {
  const list = draft.code_list_id ?? null;
  const gives = [draft.words, ...Object.values(draft.translations ?? {})].some((words) => /\{\s*code\b/.test(words));
  return list === null || !gives ? undefined : codesFor(db, list, holder, now);
}

/** Distinguishes what cannot be told apart by a version. */
let moment = 0;

/** The audience's version; a segment that looks at what was sent, clicked or answered moves with every moment. */
export async function audienceVersion(db: Queryable, draft: Draft, version: string): Promise<string> {
  const segments = [...draft.to, ...draft.leave_out].flatMap((source) => (source.kind === 'segment' ? [source.id] : []));
  const moving =
    segments.length > 0 &&
    (await db.query<{ rule: Condition }>(`SELECT rule FROM segment WHERE id = ANY ($1::bigint[])`, [segments])).rows.some((row) =>
      looksAtActivity(row.rule),
    );
  const runs = [...draft.to, ...draft.leave_out].flatMap((source) => (source.kind === 'run' ? [source.id] : []));
  const known = runs.length > 0 ? `${version} ${await outcomeVersion(db, runs)}` : version;
  const asksOutcome = moving || [...draft.to, ...draft.leave_out].some((source) => source.kind === 'unreachable');
  return asksOutcome ? `${known} ${(moment += 1)}` : known;
}

/** When the sender's line is taken by other runs. */
export async function busyOf(db: Queryable, senderId: number | null, now: number): Promise<Busy[]> {
  const { rows } = await db.query<{ busy: Busy[] }>(
    `SELECT busy FROM run WHERE sender_id = $1 AND state IN ('planning', 'waiting', 'sending', 'paused') AND NOT called_off ORDER BY id`,
    [senderId ?? 0],
  );
  return mergeBusy(rows.flatMap((row) => row.busy).filter((each) => each.until > now));
}
