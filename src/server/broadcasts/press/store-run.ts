import { iso } from '../../../core/clock';
import { calledName } from '../../../core/people/another-name';
import { fold } from '../../../core/text/fold';
import type { Db, Param, Tx } from '../../db/db';
import { Chunks } from '../../db/chunks';
import { countAnew } from '../../db/statistics';
import { Lost, type Working } from '../../desk/job-runner';
import { takeCodes, type TakenCode } from '../../codes/for-others';
import type { Presser } from './presser';
import { withOwnLinks } from '../personal-links';
import type { OpenedPlan, PlanRow } from '../planning/plan-desk';

/** A row of the queue holds texts that are due within so long, and not too many of them. */
const ROW_SPAN = 10_000;
const ROW_TEXTS = 400;

/**
 * Every text with its exact words, from one on, in chunks, so that other requests slip between. How far it is stands in the run's row with
 * the texts themselves: nobody stores a text twice, also not where the answer to a commit was lost.
 */
export async function storeTexts(
  app: Presser,
  runId: number,
  plan: OpenedPlan,
  begin: number,
  { over, stillMine }: Pick<Working, 'over' | 'stillMine'>,
): Promise<'stored' | 'called off' | 'left off'> {
  const bulk = app.db.lane('bulk');
  const chunks = new Chunks(app.db, 200, 6000);
  let from = begin;
  let told = begin;
  while (from < plan.count) {
    if (over()) return 'left off';
    await stillMine();
    const going = await chunks.take(async (most) => {
      const rows = await app.plans.rows(plan.token, from, most);
      const kept = await bulk.transaction(async (tx) => {
        const before = await stateOf(tx, runId);
        if (before?.state !== 'planning') return false;
        // somebody else stores it by now
        if (before.stored !== from) throw new Lost();
        await tx.query(`UPDATE run SET stored = $2 WHERE id = $1`, [runId, from + rows.length]);
        const ids = await reserve(tx, 'outbound_id_seq', rows.length);
        const queue = queueRows(rows, ids);
        const queueIds = await reserve(tx, 'line_queue_id_seq', queue.length);
        const made = rowsOf(rows, { runId, ids, queueIds, queue, plan });
        await tx.copyIn('outbound', OUTBOUND, [made.texts]);
        if (made.codes.length > 0) await takeCodes(tx, runId, made.codes, iso(app.clock.now()));
        if (made.links.length > 0) await tx.copyIn('link', LINK, [made.links]);
        await tx.copyIn('line_queue', QUEUE, [
          queue.map((row, i) => [queueIds[i], runId, plan.summary.sender?.id, 2, iso(row.due), row.parts, row.ids]),
        ]);
        return true;
      });
      from += rows.length;
      return kept;
    });
    if (!going) return 'called off';
    if (from - told > 5000) {
      told = from;
      app.bus.changed('run', runId);
    }
  }
  await countAnew(app.db, ['outbound']);
  return 'stored';
}

async function stateOf(tx: Tx, runId: number): Promise<{ state: string; stored: number } | undefined> {
  return (await tx.query<{ state: string; stored: number }>(`SELECT state, stored FROM run WHERE id = $1 FOR UPDATE`, [runId]))
    .rows[0];
}

/** Copies for the desk: of the run, with links of their own that count for nobody. */
export async function storeCopies(tx: Tx, now: number, runId: number, plan: OpenedPlan): Promise<void> {
  const due = Date.parse(plan.summary.first ?? iso(now));
  const ids = await reserve(tx, 'outbound_id_seq', plan.copies.length);
  const [queueId] = await reserve(tx, 'line_queue_id_seq', 1);
  const links: Param[][] = [];
  const texts = plan.copies.map((copy, i): Param[] => [
    ids[i],
    runId,
    'copy',
    null,
    copy.number,
    plan.summary.sender?.id,
    withOwnLinks(copy.text, plan.links, (token, { address, name, days, optOut }) =>
      links.push([token, null, ids[i], copy.number, address, name, expires(due, days), optOut === true, '']),
    ),
    copy.extended ? 'ucs2' : 'gsm7',
    copy.parts,
    copy.cost,
    iso(due),
    plan.summary.not_after,
    copy.parts,
    queueId,
    null,
    null,
    null,
    null,
    copy.of,
  ]);
  await tx.copyIn('outbound', [...OUTBOUND, 'copy_of'], [texts]);
  if (links.length > 0) await tx.copyIn('link', LINK, [links]);
  const parts = plan.copies.reduce((sum, each) => sum + each.parts, 0);
  await tx.copyIn('line_queue', QUEUE, [[[queueId, runId, plan.summary.sender?.id, 2, iso(due), parts, ids]]]);
}

/** Ids of our own for so many rows, as one piece of text: a row for each would cost more than the numbers. */
async function reserve(
  tx: Pick<Db, 'query'>,
  sequence: 'outbound_id_seq' | 'line_queue_id_seq',
  count: number,
): Promise<number[]> {
  const { rows } = await tx.query<{ ids: string }>(
    `SELECT string_agg(nextval('${sequence}')::text, ',') AS ids FROM generate_series(1, $1::int)`,
    [count],
  );
  return rows[0].ids.split(',').map(Number);
}

interface Cut {
  due: number;
  parts: number;
  ids: number[];
}

/** Texts by their due times, cut into rows of the queue. */
function queueRows(rows: readonly PlanRow[], ids: readonly number[]): Cut[] {
  const cuts: Cut[] = [];
  rows.forEach(([, , , , parts, , due], i) => {
    const last = cuts[cuts.length - 1];
    if (last && last.ids.length < ROW_TEXTS && due - last.due <= ROW_SPAN) {
      last.ids.push(ids[i]);
      last.parts += parts;
      last.due = Math.min(last.due, due);
    } else cuts.push({ due, parts, ids: [ids[i]] });
  });
  return cuts;
}

const OUTBOUND = [
  'id',
  'run_id',
  'kind',
  'person_id',
  'number',
  'sender_id',
  'body',
  'alphabet',
  'parts',
  'cost_micro',
  'due_at',
  'not_after',
  'open',
  'queue',
  'dependants',
  'language',
  'names_day',
  'named',
] as const;

const QUEUE = ['id', 'run_id', 'sender_id', 'lane', 'due_at', 'parts', 'ids'] as const;
const LINK = ['token', 'run_id', 'outbound_id', 'number', 'address', 'name', 'expires_at', 'opt_out', 'language'] as const;

function rowsOf(
  rows: readonly PlanRow[],
  of: {
    runId: number;
    ids: readonly number[];
    queueIds: readonly number[];
    queue: readonly Cut[];
    plan: OpenedPlan;
  },
): { texts: Param[][]; links: Param[][]; codes: TakenCode[] } {
  const { plan } = of;
  const links: Param[][] = [];
  const codes: TakenCode[] = [];
  let cut = 0;
  let inCut = 0;
  const texts = rows.map(
    ([person, number, words, extended, parts, cost, due, dependants, code, language, namesDay, named], i): Param[] => {
      if (code !== null) codes.push({ code, outbound: of.ids[i], number, person });
      if (inCut >= of.queue[cut].ids.length) {
        cut += 1;
        inCut = 0;
      }
      inCut += 1;
      const body = withOwnLinks(words, plan.links, (token, { address, name, days, optOut }) =>
        links.push([token, of.runId, of.ids[i], number, address, name, expires(due, days), optOut === true, language]),
      );
      return [
        of.ids[i],
        of.runId,
        'run',
        person,
        number,
        plan.summary.sender?.id,
        body,
        extended ? 'ucs2' : 'gsm7',
        parts,
        cost,
        iso(due),
        plan.summary.not_after,
        parts,
        of.queueIds[cut],
        dependants,
        language,
        namesDay,
        named === null ? null : JSON.stringify({ ...named, search: fold(calledName(named)) }),
      ];
    },
  );
  return { texts, links, codes };
}

/** When a link leads nowhere any more; null where it always leads. */
const expires = (due: number, days: number | undefined) => (days === undefined ? null : iso(due + days * 86_400_000));
