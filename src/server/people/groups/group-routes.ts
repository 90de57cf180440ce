import { fields, groups, listRule } from '../../../core/api/people/groups';
import type { Condition } from '../../../core/audience/condition';
import { RESERVED } from '../../../core/people/person-fields';
import { slugOf } from '../../../core/people/targets';
import { oneLine } from '../../../core/text/tidy';
import type { Queryable } from '../../db/db';
import { isDuplicate } from '../../db/db-error';
import { writeRecord } from '../../db/record';
import { refuseAlike } from '../../db/named-alike';
import { nothingHere, Refusal } from '../../../core/api/refusal';
import { idOf, route, type Route } from '../../http/route';
import { dropFieldIndex, indexField } from './field-index';
import {
  changeField,
  deleteField,
  deleteGroup,
  insertField,
  insertGroup,
  keywordsOf,
  orderFields,
  putMember,
  renameGroup,
  segmentRules,
  setLeaveAfter,
  takeMember,
} from './group-queries';

function uses(rule: Condition, what: (leaf: Condition) => boolean): boolean {
  if ('op' in rule) return rule.of.some((each) => uses(each, what));
  return what(rule) || (rule.on === 'dependant' && uses(rule.of, what));
}

/** Refuses when segments' rules have a condition like this, so that nothing they stand on is pulled away. */
async function refuseUsed(db: Queryable, thing: string, what: (leaf: Condition) => boolean): Promise<void> {
  const using = (await segmentRules(db)).filter((row) => uses(row.rule, what)).map((row) => row.name);
  if (using.length > 0)
    throw new Refusal(
      'clash',
      'in-use',
      `${thing} is used by the segment “${using[0]}”${using.length > 1 ? ` and ${using.length - 1} more` : ''}.`,
      { act: 'Change the segment first.', kept: 'Nothing was deleted.' },
    );
}

function taken(error: unknown, kind: string, name: string): never {
  if (isDuplicate(error)) throw new Refusal('clash', kind, `There is a ${kind} “${name}” already.`, { place: 'name' });
  throw error;
}

const grouped = (kind: 'list' | 'tag'): Route[] => [
  route(groups[kind].make, async (app, asked) => {
    const name = oneLine(asked.body.name);
    if (name === '') throw new Refusal('wrong', kind, `A ${kind} needs a name.`, { place: 'name' });
    await refuseAlike(app.db, kind, name, { place: 'name' });
    const id = await insertGroup(app.db, kind, name, asked.at).catch((error: unknown) => taken(error, kind, name));
    await writeRecord(app.db, asked, `made a ${kind}`, name);
    return { id };
  }),
  route(groups[kind].rename, async (app, asked) => {
    const name = oneLine(asked.body.name);
    if (name === '') throw new Refusal('wrong', kind, `A ${kind} needs a name.`, { place: 'name' });
    const id = idOf(asked.params.id);
    await refuseAlike(app.db, kind, name, { place: 'name', self: id });
    if (!(await renameGroup(app.db, kind, id, name).catch((error: unknown) => taken(error, kind, name)))) throw nothingHere();
    await writeRecord(app.db, asked, `renamed a ${kind}`, name);
    return {};
  }),
  route(groups[kind].remove, async (app, asked) => {
    const id = idOf(asked.params.id);
    await refuseUsed(app.db, `This ${kind}`, (leaf) => 'on' in leaf && leaf.on === kind && leaf.ids.includes(id));
    const [keyword] = await keywordsOf(app.db, kind, id);
    if (keyword !== undefined)
      throw new Refusal('clash', 'in-use', `The keyword “${keyword}” signs people up to this ${kind}.`, {
        act: 'End the keyword first, or have it put them elsewhere.',
        kept: 'Nothing was deleted.',
      });
    const name = await deleteGroup(app.db, kind, id);
    if (name === undefined) throw nothingHere();
    await writeRecord(app.db, asked, `deleted a ${kind}`, name);
    return {};
  }),
  route(groups[kind].put, async (app, asked) => {
    await putMember(app.db, kind, idOf(asked.params.id), idOf(asked.params.person));
    return {};
  }),
  route(groups[kind].take, async (app, asked) => {
    await takeMember(app.db, kind, idOf(asked.params.id), idOf(asked.params.person));
    return {};
  }),
];

export const groupRoutes: Route[] = [
  route(listRule, async (app, asked) => {
    const { leave_after } = asked.body;
    const name = await setLeaveAfter(app.db, idOf(asked.params.id), leave_after);
    if (name === undefined) throw nothingHere();
    await writeRecord(app.db, asked, 'changed the rule of a list', name, { leave_after });
    return {};
  }),
  ...grouped('list'),
  ...grouped('tag'),
  route(fields.make, async (app, asked) => {
    const label = oneLine(asked.body.label);
    const slug = slugOf(label);
    const { about = 'person', type, choices = [] } = asked.body;
    if (RESERVED.has(slug))
      throw new Refusal('wrong', 'field', `“${label}” is a word of our own; call the field something else.`, { place: 'label' });
    if (!(await insertField(app.db, { about, slug, label, type, choices })))
      throw new Refusal('clash', 'field', `There is a field “${slug}” already.`, { place: 'label' });
    if (about === 'person') await indexField(app.db.lane('bulk'), slug, type);
    await writeRecord(app.db, asked, 'added a field', slug);
    return { slug };
  }),
  route(fields.order, async (app, asked) => {
    await orderFields(app.db, asked.params.about, asked.body.slugs);
    await writeRecord(app.db, asked, 'put the fields in order', asked.params.about);
    return {};
  }),
  route(fields.change, async (app, asked) => {
    const { about, slug } = asked.params;
    const to = { label: oneLine(asked.body.label), choices: asked.body.choices };
    if (!(await changeField(app.db, about, slug, to))) throw nothingHere();
    await writeRecord(app.db, asked, 'changed a field', slug);
    return {};
  }),
  route(fields.remove, async (app, asked) => {
    const { about, slug } = asked.params;
    await refuseUsed(app.db, 'This field', (leaf) => 'on' in leaf && leaf.on === 'field' && leaf.field === slug);
    if (!(await deleteField(app.db, about, slug))) throw nothingHere();
    if (about === 'person') await dropFieldIndex(app.db, slug);
    await writeRecord(app.db, asked, 'deleted a field', slug);
    return {};
  }),
];
