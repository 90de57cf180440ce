import { createHash } from 'node:crypto';
import type { PlanSummary, ProofText } from '../../../core/api/sending/plan';
import { HoursBook } from '../../../core/gate/hours';
import { fold } from '../../../core/text/fold';
import type { Draft } from '../../../core/plan/draft/draft';
import type { History } from '../../../core/plan/reach/history';
import type { DummyLink } from '../../../core/plan/draft/links';
import { laterThanShown } from '../../../core/plan/times/shape';
import { makePlan } from '../../../core/plan/make';
import type { Plan } from '../../../core/plan/plan';
import type { Copy } from '../../../core/plan/reach/copies';
import { withBalance } from '../../../core/plan/money/balance';
import { proofOf } from '../../../core/plan/picture/picture';
import { rehearse, type PastFigures, type Rehearsal } from '../../../core/plan/picture/rehearsal';
import type { Busy } from '../../../core/plan/times/timetable';
import { nextRun } from '../../../core/plan/times/upcoming';
import { resolveWhen } from '../../../core/plan/times/when';
import { makeWriter, type Writer } from '../../../core/plan/words/writer';
import { wallClock } from '../../../core/zones';
import type { Queryable } from '../../db/db';
import { balanceMicro } from '../../engine/for-others';
import { broadcastOf } from '../../codes/for-others';
import { historyFor } from './history';
import { pastFigures } from './past-figures';
import { loadAudience, type Audience } from '../sources/audience-stage';
import { Kept } from '../sources/load-people';
import { byDue, span } from './plan-order';
import { audienceVersion, busyOf, codesOf, planKey, surroundings, type Surroundings } from './plan-surroundings';
import { nameOf, peopleOfStep, pick } from './plan-steps';
import { aboutChoices, type AboutChoice } from '../sources/about-choices';
import { fillingLists, goneSources } from '../sources/draft-sources';

/** One page of the reach ledger. */
export interface StepPage {
  total: number;
  people: { id: number | null; name: string; number: string | null; why: string; dependants: string[]; other_numbers: string }[];
}

/** What the press needs of a plan; its rows are fetched with `rows`. */
export interface OpenedPlan {
  token: number;
  summary: PlanSummary;
  digest: string;
  count: number;
  busy: Busy[];
  links: DummyLink[];
  copies: Copy[];
  /** For a start at once: how many would get it later than was shown, beyond what the time gone by explains. */
  later: number;
}

/** A text as it is to be stored. */
export type PlanRow = [
  person: number | null,
  number: string,
  words: string,
  extended: boolean,
  parts: number,
  cost: number,
  due: number,
  dependants: number[] | null,
  code: string | null,
  language: string,
  /** The day that its words were counted from, where they name one that moves with it: YYYY-MM-DD. */
  namesDay: string | null,
  /** What a file calls them, where it is a file that names them. */
  named: { given_name: string; family_name: string } | null,
];

interface Known {
  key: string;
  plan: Plan;
  writer: Writer;
  at: number;
}

/** Beyond so many people nothing of them is kept between two plans. */
const MOST_KEPT = 150_000;
const MOST_PLANS = 4;
const MOST_SHOWN = 12;
/** A plan for a start at once is the same plan for so long, where only words and people are asked for, ms. */
const SAME_NOW = 60_000;
const HISTORY_HOLDS = 60_000;
/**
 * Makes plans and keeps what can be used again: people while nothing about anyone has changed (the audience's version, which
 * every writer moves), the decided audience of a draft while its sources are the same, and the last plans under their digests.
 * Lives in a thread of its own (see plan-thread); everything it is asked for goes through a queue of one.
 */
export class PlanDesk {
  private readonly book = new HoursBook();
  private people: { key: string; kept: Kept } | undefined;
  private audiences: { key: string; audience: Audience }[] = [];
  private plans: Known[] = [];
  /** Of plans that were shown, what a press is held against; also when they have been made anew since. */
  private shown: Pick<Plan, 'digest' | 'content' | 'shape'>[] = [];
  private history: { holder: string; at: number; known: History } | undefined;
  /** By token: two people may press at the same moment. */
  private readonly opened = new Map<number, { plan: Plan; due: Float64Array; order: Uint32Array; zone: string }>();
  private token = 0;

  constructor(private readonly db: Queryable) {}

  async summary(draft: Draft, now: number, holder = ''): Promise<{ plan: PlanSummary; digest: string }> {
    const { plan } = await this.make(draft, now, 0, holder);
    return { plan: withBalance(plan.summary, await balanceMicro(this.db)), digest: plan.digest };
  }

  async proof(draft: Draft, which: string, index: number, now: number, holder = '') {
    const { plan, zone } = await this.make(draft, now, SAME_NOW, holder);
    const texts = pick(plan, which, zone);
    const at = Math.min(index, Math.max(0, texts.length - 1));
    const languages = new Set<string>();
    for (let i = 0; i < plan.texts.count; i += 1) languages.add(plan.texts.languages[plan.texts.language[i]]);
    return {
      total: texts.length,
      index: at,
      proof: texts.length > 0 ? proofOf(plan.texts, texts[at], 'usual', texts.length, zone) : null,
      languages: [...languages],
      sender_id: plan.summary.sender?.id ?? null,
    };
  }

  async proofs(
    draft: Draft,
    skip: number,
    most: number,
    now: number,
    holder = '',
  ): Promise<{ total: number; proofs: ProofText[] }> {
    const { plan, zone } = await this.make(draft, now, SAME_NOW, holder);
    const proofs: ProofText[] = [];
    for (let i = skip; i < Math.min(plan.texts.count, skip + most); i += 1) proofs.push(proofOf(plan.texts, i, 'usual', 1, zone));
    return { total: plan.texts.count, proofs };
  }

  async step(
    draft: Draft,
    step: string,
    search: string,
    skip: number,
    most: number,
    now: number,
    holder = '',
  ): Promise<StepPage> {
    const { plan } = await this.make(draft, now, SAME_NOW, holder);
    const wanted = fold(search);
    const digits = wanted.replace(/\D/g, '');
    const all = peopleOfStep(plan, step);
    const found =
      wanted === ''
        ? all
        : all.filter(
            ({ person }) =>
              fold(nameOf(person)).includes(wanted) || (digits.length > 2 && (person.number ?? '').includes(digits)),
          );
    return {
      total: found.length,
      people: found.slice(skip, skip + most).map(({ person, why }) => {
        const winner = step === 'same_number' ? plan.reach.winners.get(person.number ?? '') : undefined;
        return {
          id: person.known ? person.id : null,
          name: nameOf(person),
          number: person.number,
          why: winner ? `${why}; ${nameOf(winner) || 'someone without a name'} gets it` : why,
          dependants: person.dependants.map((each) => nameOf(each)),
          other_numbers: person.fields.second_phone ?? '',
        };
      }),
    };
  }

  /** Those of whom nobody knows for whom they were chosen, by what could be said of their dependants: field by field, most people first. */
  async aboutWhom(draft: Draft, now: number, holder = ''): Promise<AboutChoice[]> {
    const { plan } = await this.make({ ...draft, about: undefined }, now, SAME_NOW, holder);
    return aboutChoices(
      this.db,
      (plan.hinted.get('names_all')?.people ?? []).map(({ id }) => id),
    );
  }

  /** The plan played with what texts and answers did lately; `past` is null where too few have gone to say. */
  async rehearse(draft: Draft, now: number, holder = ''): Promise<{ past: PastFigures | null; played: Rehearsal | null }> {
    const { plan } = await this.make(draft, now, SAME_NOW, holder);
    const past = await pastFigures(this.db, now);
    return { past, played: past && rehearse(plan.texts.due, past) };
  }

  /**
   * Opens a plan for the press. When the plan that was shown is still known under its digest and nothing that it was made from has
   * moved, it is that very plan (begun now, for a start at once); else it is made anew, and the digest tells whether it differs.
   *
   * @param credit held already for what this takes the place of, micro
   * @param lateBy for a run that the server plans in each one's own time: how late it may be, ms
   */
  async open(asked: Draft, digest: string, now: number, holder = '', credit = 0, lateBy?: number): Promise<OpenedPlan> {
    const around = await surroundings(this.db);
    const draft = nextRun(asked, now, around.workspace.zone);
    const shown = this.plans.find((known) => known.plan.digest === digest);
    const codes = await codesOf(this.db, draft, holder, now);
    const key = await planKey(this.db, draft, around, codes, now);
    const seen = this.shown.find((each) => each.digest === digest);
    let plan = shown?.key === key ? shown.plan : undefined;
    let base: number | undefined;
    let { due, busy, spilled } = { due: plan?.texts.due, busy: plan?.busy ?? [], spilled: plan?.spilled ?? 0 };
    if (plan && draft.when.kind !== 'at') {
      const when = resolveWhen(draft, around.workspace, now, this.book);
      const laid = plan.relay(when.base);
      if (laid) {
        ({ due, busy, spilled } = laid);
        ({ base } = when);
      } else plan = undefined;
    }
    if (!plan || !due) {
      ({ plan } = await this.make(draft, now, 0, holder, lateBy));
      ({ due } = plan.texts);
      ({ busy, spilled } = plan);
    }
    const rate = plan.summary.sender
      ? (around.senders.find((sender) => sender.id === plan?.summary.sender?.id)?.parts_per_second ?? 1)
      : 1;
    this.token += 1;
    this.opened.set(this.token, { plan, due, order: byDue(due, plan.texts.count), zone: around.workspace.zone });
    const times = span(due, plan.texts.count);
    return {
      token: this.token,
      summary: {
        ...withBalance(plan.summary, (await balanceMicro(this.db)) + credit),
        first: times.first,
        last: times.last,
      },
      // the same but for the time gone by is what was agreed to
      digest: seen?.content === plan.content ? digest : plan.digest,
      count: plan.texts.count,
      busy,
      links: plan.links,
      copies: plan.copies,
      later:
        draft.when.kind !== 'at' && seen?.content === plan.content
          ? laterThanShown(seen.shape, { ...plan.shape, at: now, base: base ?? plan.base, due, spilled }, rate)
          : 0,
    };
  }

  /** Rows of an opened plan, by their due times. */
  rows(token: number, from: number, most: number): PlanRow[] {
    const opened = this.opened.get(token);
    if (!opened) throw new Error('This plan is not open any more.');
    const { plan, due, order, zone } = opened;
    const { texts } = plan;
    const rows: PlanRow[] = [];
    const about = plan.summary.people > 0 && this.aboutDependants(plan);
    const { dated } = plan;
    for (const i of order.slice(from, from + most)) {
      const person = texts.people[i];
      rows.push([
        person.known ? person.id : null,
        person.number ?? '',
        texts.write(i),
        texts.extended[i] === 1,
        texts.parts[i],
        texts.cost[i],
        due[i],
        // whom it names; else for whom they were chosen, so that who must not hear about them by then is still held back
        (about || person.thereFor) && person.dependants.length > 0 ? person.dependants.map((each) => each.id) : null,
        texts.code(i),
        texts.languages[texts.language[i]],
        dated ? wallClock(due[i], person.zone ?? zone).date : null,
        person.byFile ? { given_name: person.given_name, family_name: person.family_name } : null,
      ]);
    }
    return rows;
  }

  close(token: number): void {
    this.opened.delete(token);
  }

  private aboutDependants(plan: Plan): boolean {
    return this.plans.find((known) => known.plan === plan)?.writer.aboutDependants ?? true;
  }

  /** What went before, asked anew only after a while: it is for hints. */
  private async historyOf(holder: string, now: number): Promise<History | undefined> {
    if (holder === '') return undefined;
    if (this.history?.holder !== holder || Math.abs(now - this.history.at) > HISTORY_HOLDS)
      this.history = { holder, at: now, known: await historyFor(this.db, broadcastOf(holder), now) };
    return this.history.known;
  }

  /** The plan itself. @param sameFor how old a plan for a start at once may be, ms */
  async make(asked: Draft, now: number, sameFor = 0, holder = '', lateBy?: number): Promise<{ plan: Plan; zone: string }> {
    const around = await surroundings(this.db);
    // of one that is repeated, the run that comes next
    const draft = nextRun(asked, now, around.workspace.zone);
    const codes = await codesOf(this.db, draft, holder, now);
    const key = await planKey(this.db, draft, around, codes, now);
    const known = this.plans.find((each) => each.key === key);
    if (known && lateBy === undefined && (draft.when.kind === 'at' ? known.plan.base > now : now - known.at <= sameFor))
      return { plan: known.plan, zone: around.workspace.zone };
    const { workspace } = around;
    const sender = around.senders.find((each) => each.id === draft.sender_id) ?? null;
    const writer = makeWriter(draft, workspace, sender, around.types, codes);
    const today = { day: wallClock(now, workspace.zone).date, zone: workspace.zone };
    const audience = await this.audience(draft, writer, around, today);
    // of a very large one there is no room for two
    if (audience.reach.willGet.length > MOST_KEPT) this.plans = [];
    const plan = makePlan({
      draft,
      now,
      workspace,
      sender,
      writer,
      codes,
      desk: around.desk,
      history: await this.historyOf(holder, now),
      when: resolveWhen(draft, workspace, now, this.book),
      lateBy,
      rates: around.rates,
      balance: await balanceMicro(this.db),
      ...audience,
      gone: await goneSources(this.db, draft),
      filling: await fillingLists(this.db, draft),
      busy: await busyOf(this.db, draft.sender_id, now),
      book: this.book,
      // FIPS 180-4: as long as SHA-256, and on machines of 64 bits faster
      hash: () => createHash('sha512-256'),
    });
    const { digest, content, shape } = plan;
    this.shown = [{ digest, content, shape }, ...this.shown.filter((each) => each.digest !== digest)].slice(
      0,
      plan.texts.count > MOST_KEPT ? 2 : MOST_SHOWN,
    );
    this.plans = [{ key, plan, writer, at: now }, ...this.plans.filter((each) => each.key !== key)].slice(
      0,
      plan.texts.count > MOST_KEPT ? 1 : MOST_PLANS,
    );
    return { plan, zone: workspace.zone };
  }

  private async audience(
    draft: Draft,
    writer: Writer,
    around: Surroundings,
    today: { day: string; zone: string },
  ): Promise<Audience> {
    const version = await audienceVersion(this.db, draft, around.version);
    const loading = JSON.stringify([around.version, draft.purpose, writer.fields, today.day]);
    const key = JSON.stringify([
      version,
      loading,
      writer.dependantFields,
      writer.aboutDependants,
      today.day,
      draft.to,
      draft.leave_out,
      draft.unticked,
      draft.unticked_numbers,
      draft.second_contacts,
      draft.barred,
      draft.about,
    ]);
    const known = this.audiences.find((each) => each.key === key);
    if (known) return known.audience;
    if (this.people?.key !== loading) this.people = { key: loading, kept: new Kept() };
    const audience = await loadAudience(this.db, draft, writer, today, this.people.kept);
    if (this.people.kept.size > MOST_KEPT) this.people = undefined;
    this.audiences = [{ key, audience }, ...this.audiences].slice(0, audience.reach.chosen > MOST_KEPT ? 1 : MOST_PLANS);
    return audience;
  }
}
