import type { SimStore } from '../../line/simulator/store';
import type { DeskStore } from './desk-store';
import type { FromPhone, Pressed, SimDeskRun } from './desk-tables';

/** All there is at the end of a history. */
interface Ended {
  desk: DeskStore;
  presses: readonly Pressed[];
  phones: readonly FromPhone[];
  store: SimStore;
}

/**
 * What of the desk is not as it is to be at the end: no press without a run or an undone press with its money; no date and no import
 * without a run or a miss, and none with two; nobody twice; nothing held for ever; every reply acted on once; every job ended.
 */
export function deskWrong({ desk, presses, phones, store }: Ended): string[] {
  const problems: string[] = [];
  const all = [...desk.runs.values(), ...desk.gone];
  for (const run of desk.runs.values()) {
    if (run.calledOff) problems.push(`run ${run.id} was called off and is not cleared away`);
    else if (run.endedAt === null) problems.push(`run ${run.id} never came to its end: ${run.state}`);
    else if (!run.cleaned) problems.push(`lists were not cleaned after run ${run.id}`);
  }
  problems.push(...moneyWrong(desk, all));
  for (const press of presses) problems.push(...pressWrong(press, all));
  for (const broadcast of desk.broadcasts.values()) problems.push(...coursesWrong(desk, broadcast.id, all));
  // nobody twice for one occasion
  const seen = new Set<string>();
  for (const text of store.texts.values()) {
    const run = text.run === null ? undefined : desk.runs.get(text.run);
    if (!run || text.state === 'not_sent') continue;
    const key = `${run.broadcast} ${occasionOf(run)} ${text.number}`;
    if (seen.has(key)) problems.push(`${text.number} is texted twice by broadcast ${run.broadcast}`);
    seen.add(key);
  }
  for (const text of phones) {
    const stored = desk.inbound.filter((each) => each.id === text.id);
    if (stored.length !== 1) problems.push(`the reply ${text.id} is here ${stored.length} times`);
    else if (!stored[0].applied) problems.push(`the reply ${text.id} was never acted on`);
    if (text.kind === 'stop' && store.people.get(text.number)?.registered !== true)
      problems.push(`${text.number} said stop and is not in the register`);
  }
  for (const passed of desk.passed)
    if (passed.texts.length !== 1) problems.push(`a reply was passed on ${passed.texts.length} times`);
  for (const row of desk.jobs.rows.values()) problems.push(`work is left: ${row.kind} ${row.key}`);
  return problems;
}

/** One run is for one occasion: a date, an import, or what was pressed itself; each of one press. */
const occasionOf = (run: SimDeskRun) =>
  `${run.series} ${run.date ?? (run.import === null ? 'as pressed' : `import ${run.import}`)}`;

function moneyWrong(desk: DeskStore, all: readonly SimDeskRun[]): string[] {
  const problems: string[] = [];
  for (const run of all) {
    if (run.people.length === 0) continue;
    let billed = 0;
    for (const text of desk.line.texts.values()) if (text.run === run.id) billed += text.billed;
    const sum = desk.sumOf(run.id);
    if (sum !== -billed) problems.push(`run ${run.id}: ${-sum} stand in the ledger, ${billed} were taken`);
  }
  for (const text of desk.line.texts.values()) {
    if (text.run !== null) continue;
    const sum = desk.ledger.reduce((total, entry) => total + (entry.text === text.id ? entry.amount : 0), 0);
    if (sum !== -text.billed) problems.push(`text ${text.id}: ${-sum} stand in the ledger, ${text.billed} were taken`);
  }
  return problems;
}

function pressWrong(press: Pressed, all: readonly SimDeskRun[]): string[] {
  const mine = all.filter((run) => run.pressId === press.id || run.pressId.startsWith(`${press.id}/off/`));
  if (mine.length > 1) return [`${press.id} made ${mine.length} runs`];
  const other = mine.find((run) => run.digest !== press.digest || run.words !== press.words);
  if (other) return [`${press.id}: its run is not what was seen`];
  if (press.came === undefined) return [`${press.id} was never answered`];
  if (press.came === 'refused' && mine.length > 0) return [`${press.id} was refused, and there is a run of it`];
  if (press.came === 'refused') return [];
  if (typeof press.came === 'string')
    return mine.length === 1 && !mine[0].calledOff ? [`${press.id} was ${press.came}, and its run goes`] : [];
  if (press.came.run !== null && mine.length === 0) return [`${press.id} has a run, and there is none`];
  return [];
}

/** Every date has one run or a miss, and so has every import, while their broadcast was scheduled and nobody skipped them. */
function coursesWrong(desk: DeskStore, id: number, all: readonly SimDeskRun[]): string[] {
  const broadcast = desk.broadcast(id);
  const problems: string[] = [];
  const kept = all.filter((run) => run.broadcast === id && !run.calledOff);
  const occasions = new Map<string, number>();
  for (const run of kept) {
    const key = occasionOf(run);
    occasions.set(key, (occasions.get(key) ?? 0) + 1);
  }
  for (const [occasion, times] of occasions) if (times > 1) problems.push(`broadcast ${id} has ${times} runs for ${occasion}`);
  for (const run of kept) {
    const undoneAt = desk.imports.find((each) => each.id === run.import)?.undoneAt ?? null;
    if (undoneAt !== null && run.at > undoneAt) problems.push(`run ${run.id} goes to people of an import that had been undone`);
  }
  if (broadcast.state === 'scheduled' && broadcast.kind !== 'import') problems.push(`broadcast ${id} never came to its end`);
  // the dates of a series that came to its end, as it was pressed last
  if (broadcast.kind === 'repeat' && broadcast.state === 'ended')
    for (let n = 1; n < broadcast.times; n += 1) {
      const there = kept.some((run) => run.date === `d${n}` && run.series === broadcast.series);
      if (!there && !desk.excused.has(`${broadcast.series} d${n}`))
        problems.push(`broadcast ${id}: its date d${n} has neither run nor miss`);
    }
  if (broadcast.kind === 'import' && broadcast.state === 'scheduled')
    for (const each of desk.imports) {
      if (each.at <= desk.scheduledAt(id) || each.undoneAt !== null) continue;
      const there = kept.some((run) => run.import === each.id && run.series === broadcast.series);
      if (!there && !desk.excused.has(`${broadcast.series} import ${each.id}`))
        problems.push(`broadcast ${id}: import ${each.id} has neither run nor miss`);
    }
  return problems;
}
