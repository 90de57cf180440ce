import { broadcasts } from '../../../core/api/sending/broadcasts';
import { mayDo } from '../../../core/api/roles';
import { OUTCOME_WORDS } from '../../../core/outcome/outcomes';
import { fold } from '../../../core/text/fold';
import { calledOf } from '../../../core/plan/draft/called';
import { EMPTY_DRAFT, type Draft } from '../../../core/plan/draft/draft';
import { testedPart } from '../../../core/plan/ready/since-test';
import type { Queryable, Tx } from '../../db/db';
import { holderOf, reserveCodes } from '../../codes/for-others';
import { callOff, queueText } from '../../engine/for-others';
import { testersOf, workspaceOf } from '../../setup/for-others';
import { writeRecord } from '../../db/record';
import { nothingHere, Refusal } from '../../../core/api/refusal';
import { idOf, route, who, type Route } from '../../http/route';
import { TEST_USEFUL, whoToTest } from './who-to-test';
import {
  allSenders,
  broadcastById,
  deleteDraft,
  endRepeats,
  firstSender,
  insertDraft,
  keepTested,
  latestRunOf,
  listBroadcasts,
  runsToCallOff,
  peopleAtTheDesk,
  putBack,
  saveDraft,
  setLabels,
  usedLabels,
  type StoredBroadcast,
} from './broadcast-queries';
import { followUp, runToFollow } from './follow-up';
import { beHere, leave } from './presence';
import { press } from '../press/press';
import { refuseTooManyTests } from './test-limit';
import { shorterWords } from './shorter';
import { dummiesIn, linkedForTest } from './test-links';

async function broadcastOf(db: Queryable, id: number): Promise<StoredBroadcast> {
  const found = await broadcastById(db, id);
  if (!found) throw nothingHere();
  return found;
}

/** Each label once; one that is in use already, in whatever case, is written as it is there. */
async function tidyLabels(db: Queryable, given: readonly string[]): Promise<string[]> {
  const used = new Map((await usedLabels(db)).map(({ label }) => [fold(label), label]));
  const kept = new Map<string, string>();
  for (const each of given) {
    const label = each.trim().replace(/\s+/g, ' ');
    if (label !== '' && !kept.has(fold(label))) kept.set(fold(label), used.get(fold(label)) ?? label);
  }
  return [...kept.values()];
}

export const broadcastRoutes: Route[] = [
  route(broadcasts.list, (app, asked) => listBroadcasts(app.db, asked.query)),
  route(broadcasts.labels, async (app) => ({ labels: await usedLabels(app.db) })),
  route(broadcasts.label, async (app, asked) => {
    const labels = await tidyLabels(app.db, asked.body.labels);
    if (!(await setLabels(app.db, idOf(asked.params.id), labels))) throw nothingHere();
    return { labels };
  }),
  route(broadcasts.make, async (app, asked) => {
    const { list_id, segment_id, people, dependants, copy, follow } = asked.body;
    let draft: Draft = { ...EMPTY_DRAFT, sender_id: await firstSender(app.db) };
    let name = asked.body.name;
    let labels: readonly string[] = [];
    if (copy !== undefined) {
      const from = await broadcastOf(app.db, copy);
      draft = { ...from.draft, when: { kind: 'now' }, no_use_after: null, unticked: [], unticked_numbers: [] };
      // what was decided for that time and those people is decided anew
      delete draft.dismissed;
      if (draft.pace?.kind === 'until') delete draft.pace;
      name = name || `${calledOf({ name: from.name, words: from.draft.words })}, copy`;
      labels = from.labels;
    }
    if (follow) {
      const run = await runToFollow(app.db, follow.run_id);
      if (!run) throw nothingHere();
      draft = followUp(run, follow, asked.now);
      const { corrects, thanks, choice, outcome } = follow;
      name =
        name ||
        (corrects
          ? `Correction: ${run.name}`
          : thanks
            ? `Thanks: ${run.name}`
            : `${run.name}, ${follow.again ? 'again' : OUTCOME_WORDS[outcome]}${choice ? ` ${choice.label}` : ''}`);
      labels = run.labels;
    }
    if (list_id !== undefined) draft = { ...draft, to: [{ kind: 'list', id: list_id }] };
    if (segment_id !== undefined) draft = { ...draft, to: [{ kind: 'segment', id: segment_id }] };
    // where the first contact of one cannot be texted, the next gets it: it is about them, not about whom one writes to
    if (dependants) draft = { ...draft, to: [{ kind: 'dependants', ids: dependants }], second_contacts: true };
    if (people && people.length > 0) draft = { ...draft, to: people.map((id) => ({ kind: 'person', id })) };
    const blank = copy === undefined && !follow && name === '';
    return { id: await insertDraft(app.db, { name, draft, account: who(asked).id, at: asked.at, labels, blank }) };
  }),
  route(broadcasts.get, async (app, asked) => {
    const broadcast = await broadcastOf(app.db, idOf(asked.params.id));
    return { ...broadcast, run: await latestRunOf(app.db, broadcast.id), senders: await allSenders(app.db) };
  }),
  route(broadcasts.save, async (app, asked) => {
    const id = idOf(asked.params.id);
    const saved = await saveDraft(app.db, id, { ...asked.body, at: asked.at });
    if (saved) return saved;
    const now = await broadcastOf(app.db, id);
    if (now.state === 'scheduled')
      throw new Refusal('clash', 'scheduled', 'This broadcast is scheduled. Set it aside to edit it.', {});
    if (now.state === 'ended' || now.state === 'canceled')
      throw new Refusal('clash', 'ended', `This broadcast is ${now.state}. Copy it to write another.`, {});
    throw new Refusal('clash', 'changed', 'Someone else has saved this draft since you opened it.', {
      kept: 'Your words are still on this page; copy them before you reload.',
    });
  }),
  route(broadcasts.here, async (app, asked) => {
    const { tab, place } = asked.body;
    if (place === 'nowhere') {
      await leave(app.db, tab);
      return { others: [] };
    }
    const here = { tab, place, broadcast: idOf(asked.params.id), account: who(asked).id, now: asked.now };
    return { others: await beHere(app.db, here) };
  }),
  route(broadcasts.remove, async (app, asked) => {
    if (!(await deleteDraft(app.db, idOf(asked.params.id))))
      throw new Refusal('clash', 'kept', 'Only a draft that was never sent can be deleted.', {});
    return {};
  }),
  route(broadcasts.plan, async (app, asked) => {
    const { draft, reserve } = asked.body;
    const holder = holderOf(idOf(asked.params.id));
    const answer = await app.plans.summary(draft, asked.now, holder);
    const { codes } = answer.plan;
    const list = draft.code_list_id ?? null;
    // at the last look each recipient's code is known, and is theirs for a while; who may not send takes none away from those who may
    if (!reserve || !codes || list === null || codes.free < codes.needed || !mayDo(who(asked).role, 'send')) return answer;
    await reserveCodes(app.db, list, holder, codes.needed, asked.now);
    return app.plans.summary(draft, asked.now, holder);
  }),
  route(broadcasts.shorter, async (app, asked) => ({
    proposals: await shorterWords(app.plans, {
      ...asked.body,
      first: (await workspaceOf(app.db)).languages[0],
      now: asked.now,
      holder: holderOf(idOf(asked.params.id)),
    }),
  })),
  route(broadcasts.rehearse, async (app, asked) => ({
    ...(await app.plans.rehearse(asked.body.draft, asked.now, holderOf(idOf(asked.params.id)))),
    desk: await peopleAtTheDesk(app.db, asked.at),
  })),
  route(broadcasts.proof, async (app, asked) => {
    return app.plans.proof(asked.body.draft, asked.body.which, asked.body.index, asked.now, holderOf(idOf(asked.params.id)));
  }),
  route(broadcasts.proofs, async (app, asked) => {
    return app.plans.proofs(asked.body.draft, asked.body.skip ?? 0, 5000, asked.now, holderOf(idOf(asked.params.id)));
  }),
  route(broadcasts.test, async (app, asked) => {
    const { draft, which, index, me, testers } = asked.body;
    const id = idOf(asked.params.id);
    const account = who(asked);
    if (me && !account.own_number)
      throw new Refusal('wrong', 'own-number', 'You have not said which number is yours.', {
        place: 'own_number',
        act: 'Give your own number first.',
      });
    const own = me && account.own_number ? [{ name: account.name, number: account.own_number, own: true }] : [];
    const others = (await testersOf(app.db, testers)).filter(({ number }) => number !== own.at(0)?.number);
    const all = [...own, ...others.map((each) => ({ ...each, own: false }))];
    const whom = whoToTest(all, await workspaceOf(app.db), asked.now);
    const { proof, sender_id } = await app.plans.proof(draft, which, index, asked.now, holderOf(id));
    if (!proof || sender_id === null) throw new Refusal('wrong', 'no-proof', 'There is nobody to write it for yet.', {});
    const kept = { at: asked.at, by: account.name, numbers: whom.now.length, draft: testedPart(draft) };
    const tested = { ...kept, as: proof.name };
    const links = dummiesIn(draft, (await workspaceOf(app.db)).public_address);
    await app.db.transaction(async (tx) => {
      for (const { number, own: toMe } of whom.now)
        for (const words of [proof.text, ...(proof.after ? [proof.after.text] : [])]) {
          const body = await linkedForTest(tx, words, links, { number, language: proof.language }, asked.now);
          await queueText(
            tx,
            {
              ...{ kind: 'test', personId: null, number, senderId: sender_id, body, accountId: account.id },
              usefulFor: TEST_USEFUL,
              asked: toMe,
              showAtOnce: draft.show_at_once,
              // it holds their words
              copyOf: proof.person_id,
            },
            asked.now,
          );
        }
      await refuseTooManyTests(tx, account.id, asked.now);
      await keepTested(tx, id, kept, proof.person_id);
      await writeRecord(tx, asked, 'sent a test text', String(id), { numbers: whom.now.length });
    });
    app.bus.work();
    app.bus.changed('balance');
    return { numbers: whom.now.map(({ number }) => number), later: whom.later, tested };
  }),
  route(broadcasts.press, async (app, asked) => {
    const { run_id } = await press(
      app,
      {
        broadcastId: idOf(asked.params.id),
        version: asked.body.version,
        digest: asked.body.digest,
        pressId: asked.body.press_id,
      },
      asked,
    );
    // it is being planned: nothing has started, and until it does it can be called off
    return { run_id };
  }),
  route(broadcasts.putBack, async (app, asked) => {
    const id = idOf(asked.params.id);
    return app.db.transaction(async (tx) => {
      const back = await putBack(tx, id, asked.at);
      if (!back) {
        const { state } = await broadcastOf(tx, id);
        throw new Refusal('clash', 'not-aside', `This broadcast is ${STATE_WORDS[state]}: there is nothing to put back.`);
      }
      await writeRecord(tx, asked, 'put a broadcast back as it was', String(id));
      return back;
    });
  }),
  route(broadcasts.setAside, async (app, asked) => {
    const id = idOf(asked.params.id);
    const { as } = asked.body;
    await app.db.transaction(async (tx) => {
      const found = await runsToCallOff(tx, id);
      const [next] = found?.ids ?? [];
      const runs = as === 'skipped' ? [next].filter((run) => run !== undefined) : (found?.ids ?? []);
      let done = 0;
      for (const run of runs) if (await callOff(tx, run, as, asked.now)) done += 1;
      if (found?.goesOn && as !== 'skipped') {
        await endRepeats(tx, id, as, asked.at);
        done += 1;
      }
      if (done === 0) return refuseUnlessSo(tx, id, as);
      await writeRecord(tx, asked, CALLED_OFF[as], String(id), { runs });
    });
    return {};
  }),
];

/** Nothing was there to call off: because it has gone, or because it was called off already, perhaps by an act whose answer was lost. */
async function refuseUnlessSo(tx: Tx, id: number, as: keyof typeof CALLED_OFF): Promise<void> {
  const state = (await tx.query<{ state: string }>(`SELECT state FROM broadcast WHERE id = $1`, [id])).rows.at(0)?.state;
  if (state === as) return;
  if (state === 'draft' || state === 'set_aside' || state === 'canceled')
    throw new Refusal('clash', 'taken-back', `It was taken back already, and is ${STATE_WORDS[state]}.`);
  throw new Refusal('clash', 'too-late', 'It has started and cannot be taken back; you can cancel the rest.');
}
const STATE_WORDS = {
  draft: 'a draft',
  scheduled: 'scheduled',
  set_aside: 'set aside',
  canceled: 'canceled',
  ended: 'ended',
} as const;

const CALLED_OFF = {
  canceled: 'canceled a broadcast',
  skipped: 'skipped a run of a broadcast',
  draft: 'took a broadcast back',
  set_aside: 'took a broadcast back',
} as const;
