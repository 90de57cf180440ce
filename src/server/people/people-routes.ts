import { people } from '../../core/api/people/people';
import { iso } from '../../core/clock';
import { readPhone } from '../../core/phone/read';
import { writeRecord } from '../db/record';
import { optOut, notSent, queueText, senderAnswering, closeUpTo, lockConversation } from '../engine/for-others';
import { nothingHere, Refusal } from '../../core/api/refusal';
import { idOf, route, who, type Route } from '../http/route';
import { changeMany, changesSince, undoMany } from './bulk';
import { erasePerson } from './person/erase';
import { insertConsent, knownPerson, lockPerson, reachOf, sharersOf, twinsOf } from './person/person-queries';
import { mergePeople } from './person/merge-people';
import { countPeople, filterOf, pageOfPeople, todayOf } from './people-queries';
import { KEPT, readBody } from './person/person-body';
import { fieldTypes, insertPeople, peopleById, reserveIds, updatePeople } from '../address-book/for-others';
import { sourcesOf } from './groups/source-queries';
import { countryOf } from '../setup/for-others';

const MONTH = 30 * 86_400_000;

export const peopleRoutes: Route[] = [
  route(people.sources, async (app, asked) => {
    const today = await todayOf(app.db, asked.now);
    const [everyone, cannot, sources] = await Promise.all([
      countPeople(app.db, {}, today),
      countPeople(app.db, { rule: { on: 'reach', is: 'no' } }, today),
      sourcesOf(app.db),
    ]);
    return { everyone, cannot, ...sources };
  }),
  route(people.list, async (app, asked) => {
    const { query } = asked;
    const today = await todayOf(app.db, asked.now);
    const filter = await filterOf(app.db, query);
    const by = /^[a-z][a-z0-9_]{0,40}$/.test(query.sort ?? '') ? (query.sort ?? 'name') : 'name';
    const after = query.after_key === undefined ? undefined : { key: query.after_key, id: Number(query.after_id) || 0 };
    return { people: await pageOfPeople(app.db, filter, { by, down: query.down === '1' }, after, 100, today) };
  }),
  route(people.count, async (app, asked) => {
    const today = await todayOf(app.db, asked.now);
    const filter = await filterOf(app.db, asked.query);
    const can = {
      op: 'all' as const,
      of: [...(filter.rule ? [filter.rule] : []), { on: 'reach' as const, is: 'yes' as const }],
    };
    return {
      people: await countPeople(app.db, filter, today),
      can: asked.query.cannot === '1' ? 0 : await countPeople(app.db, { ...filter, rule: can }, today),
    };
  }),
  route(people.bulk, async (app, asked) => {
    const { filter, ids, act, what } = asked.body;
    if (!filter && !ids) throw new Refusal('not understood', 'request', 'Nobody is chosen.', { place: 'ids' });
    const which = ids ? { ids } : await filterOf(app.db, filter ?? {});
    const changed = await changeMany(app.db, which, act, what, asked, await todayOf(app.db, asked.now));
    await writeRecord(app.db, asked, 'changed many people', what, { people: changed.people, change: changed.id });
    return changed;
  }),
  route(people.changes, async (app, asked) => ({ changes: await changesSince(app.db, iso(asked.now - MONTH)) })),
  route(people.undoBulk, async (app, asked) => {
    const id = idOf(asked.params.id);
    const undone = await undoMany(app.db, id, asked.at);
    await writeRecord(app.db, asked, 'undid a change of many people', '', { people: undone, change: id });
    return { people: undone };
  }),
  route(people.sharing, async (app, asked) => {
    const { number, except = 0 } = asked.query;
    const read = readPhone(number, { country: await countryOf(app.db) });
    return read.ok
      ? { number: read.number, sharers: await sharersOf(app.db, read.number, except) }
      : { number: null, sharers: [] };
  }),
  route(people.get, async (app, asked) => {
    const known = await knownPerson(app.db, idOf(asked.params.id));
    if (!known) throw nothingHere();
    return known;
  }),
  route(people.make, async (app, asked) => {
    const p = await readBody(app.db, asked.body, asked.at);
    if (p.given_name === '' && p.family_name === '' && p.number === null)
      throw new Refusal('wrong', 'nobody', 'A person needs a name or a number.', { place: 'given_name', kept: KEPT });
    const id = await app.db.transaction(async (tx) => {
      const [made] = await reserveIds(tx, 'person', 1);
      await insertPeople(tx, [{ id: made, ...p }], await fieldTypes(tx), { at: asked.at, importId: null });
      await writeRecord(tx, asked, 'added a person', String(made));
      return made;
    });
    return { id };
  }),
  route(people.change, async (app, asked) => {
    const id = idOf(asked.params.id);
    const removed = await app.db.transaction(async (tx) => {
      await lockPerson(tx, id);
      const [old] = await peopleById(tx, [id]);
      if (!old) throw nothingHere();
      const p = await readBody(tx, asked.body, asked.at, old);
      await updatePeople(tx, [{ id, ...p }], await fieldTypes(tx), asked.at);
      await writeRecord(tx, asked, 'changed a person', String(id));
      return old.number !== p.number ? notSent(tx, { people: [id] }, 'number changed', asked.at) : [];
    });
    for (const run of removed) app.bus.changed('run', run);
    return {};
  }),
  route(people.merge, async (app, asked) => {
    const id = idOf(asked.params.id);
    const removed = await app.db.transaction(async (tx) => {
      const runs = await mergePeople(tx, id, asked.body.other_id, asked.at, asked.account?.id ?? null);
      await writeRecord(tx, asked, 'made one person of two', String(id), { other: asked.body.other_id });
      return runs;
    });
    for (const run of removed) app.bus.changed('run', run);
    return { id };
  }),
  route(people.consent, async (app, asked) => {
    const id = idOf(asked.params.id);
    const { act, purpose } = asked.body;
    await app.db.transaction(async (tx) => {
      const [person] = await peopleById(tx, [id]);
      if (!person) throw nothingHere();
      if (person.number === null)
        throw new Refusal('wrong', 'no-number', 'Consent belongs to a number, and there is none yet.', { place: 'number' });
      await insertConsent(tx, { ...asked.body, person: id, number: person.number, account: who(asked).id, at: asked.at });
      await writeRecord(tx, asked, `wrote down consent ${act}`, String(id), { purpose });
    });
    return {};
  }),
  route(people.optOut, async (app, asked) => {
    const id = idOf(asked.params.id);
    const runs = await app.db.transaction(async (tx) => {
      const [person] = await peopleById(tx, [id]);
      if (!person?.number) throw new Refusal('wrong', 'no-number', 'There is no number to keep from being texted.');
      await writeRecord(tx, asked, 'opted a person out', String(id));
      return (await optOut(tx, { number: person.number, how: 'told us', words: asked.body.words }, asked.at)).runs;
    });
    for (const run of runs) app.bus.changed('run', run);
    return {};
  }),
  route(people.twins, async (app, asked) => {
    const [person] = await peopleById(app.db, [idOf(asked.params.id)]);
    if (!person) throw nothingHere();
    return { people: await twinsOf(app.db, person) };
  }),
  route(people.erase, async (app, asked) => {
    const id = idOf(asked.params.id);
    const erased = await app.db.transaction(async (tx) => {
      const done = await erasePerson(tx, id, asked.at);
      if (!done) throw nothingHere();
      await writeRecord(tx, asked, 'erased a person', String(id));
      return done;
    });
    for (const run of erased.runs) app.bus.changed('run', run);
    return {};
  }),
  route(people.text, async (app, asked) => {
    const id = idOf(asked.params.id);
    await app.db.transaction(async (tx) => {
      const person = await reachOf(tx, id);
      if (!person) throw nothingHere();
      const { number } = person;
      if (number === null || person.reach !== 'yes')
        throw new Refusal('wrong', 'unreachable', `They cannot be texted: ${person.reach}.`, {
          kept: 'Your words are still here.',
        });
      // the one road to what an answer comes from: never a name, which they could not answer
      const sender = await senderAnswering(tx, number);
      if (sender === null) throw new Refusal('wrong', 'no-sender', 'There is no sender yet.', { act: 'Add one in Setup.' });
      const text = { personId: id, number, senderId: sender.id, body: asked.body.words, usefulFor: 12 * 3_600_000 };
      await lockConversation(tx, number);
      await queueText(tx, { kind: 'reply', ...text, accountId: who(asked).id }, asked.now);
      await closeUpTo(tx, number, Number.MAX_SAFE_INTEGER, asked.at);
      await writeRecord(tx, asked, 'answered a person', String(id));
    });
    app.bus.work();
    return {};
  }),
];
