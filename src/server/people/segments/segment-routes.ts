import { fields, segments } from '../../../core/api/people/groups';
import { explain } from '../../../core/audience/words';
import { oneLine } from '../../../core/text/tidy';
import { isDuplicate } from '../../db/db-error';
import { writeRecord } from '../../db/record';
import { refuseAlike } from '../../db/named-alike';
import { nothingHere, Refusal } from '../../../core/api/refusal';
import { idOf, route, type Route } from '../../http/route';
import { checkedRule, countPeople, todayOf } from '../people-queries';
import { peopleById } from '../../address-book/for-others';
import { factsOf } from './facts';
import { changeSegment, deleteSegment, insertSegment, listSegments, namesOf, valuesOf } from './segment-queries';

function taken(error: unknown, name: string): never {
  if (isDuplicate(error)) throw new Refusal('clash', 'segment', `There is a segment “${name}” already.`, { place: 'name' });
  throw error;
}

export const segmentRoutes: Route[] = [
  route(segments.list, async (app, asked) => {
    const today = await todayOf(app.db, asked.now);
    const counted = [];
    // one after the other: a rule may go over everyone
    for (const each of await listSegments(app.db))
      counted.push({ ...each, people: await countPeople(app.db, { rule: each.rule }, today) });
    return { segments: counted };
  }),
  route(segments.make, async (app, asked) => {
    const name = oneLine(asked.body.name);
    const rule = await checkedRule(app.db, asked.body.rule);
    await refuseAlike(app.db, 'segment', name, { place: 'name' });
    const id = await insertSegment(app.db, name, rule, asked.at).catch((error: unknown) => taken(error, name));
    await writeRecord(app.db, asked, 'made a segment', name);
    return { id };
  }),
  route(segments.change, async (app, asked) => {
    const name = oneLine(asked.body.name);
    const rule = await checkedRule(app.db, asked.body.rule);
    const id = idOf(asked.params.id);
    await refuseAlike(app.db, 'segment', name, { place: 'name', self: id });
    if (!(await changeSegment(app.db, { id, name, rule }, asked.at).catch((error: unknown) => taken(error, name))))
      throw nothingHere();
    await writeRecord(app.db, asked, 'changed a segment', name);
    return {};
  }),
  route(segments.remove, async (app, asked) => {
    const name = await deleteSegment(app.db, idOf(asked.params.id));
    if (name === undefined) throw nothingHere();
    await writeRecord(app.db, asked, 'deleted a segment', name);
    return {};
  }),
  route(segments.why, async (app, asked) => {
    const rule = await checkedRule(app.db, asked.body.rule);
    const facts = (await factsOf(app.db, [asked.body.person_id])).get(asked.body.person_id);
    if (!facts) throw nothingHere();
    const [stored] = await peopleById(app.db, [asked.body.person_id]);
    const own: Record<string, string | null> = {
      ...stored.fields,
      given_name: stored.given_name,
      family_name: stored.family_name,
      reference: stored.reference,
      number: stored.number,
      country: stored.number_country,
      kind: stored.number_kind,
      language: stored.language,
      zone: stored.zone,
      born: stored.born,
    };
    const today = await todayOf(app.db, asked.now);
    return { why: explain(rule, facts, today, await namesOf(app.db), (slug) => own[slug] || undefined) };
  }),
  route(fields.values, async (app, asked) => ({
    values: await valuesOf(app.db, asked.params.about === 'dependant' ? 'dependant' : 'person', asked.params.slug),
  })),
];
