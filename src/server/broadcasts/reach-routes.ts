import { Type } from 'typebox';
import { fold } from '../../core/people/fold';
import { Draft } from '../../core/plan/draft';
import { CANNOT_BE_TEXTED, DROP_REASONS, DROP_WORDS, type DropReason } from '../../core/plan/reach';
import { PHONE_PROBLEM_WORDS, readPhone } from '../../core/phone/read';
import { route, type Route } from '../http/route';
import type { AudiencePerson } from './audience';
import { makePlan, type Plan } from './plan';

const STEPS: readonly (DropReason | 'too_late')[] = [...DROP_REASONS, 'too_late'];
const words = (reason: DropReason | 'too_late') => (reason === 'too_late' ? 'no allowed hour in time' : DROP_WORDS[reason]);

/** The people of a step with why they are in it; `call_list` is everyone who cannot be texted at all. */
function peopleOfStep(plan: Plan, step: string): { person: AudiencePerson; why: string }[] {
  const dropped = (reason: DropReason | 'too_late') => plan.dropped[reason].map((person) => ({ person, why: words(reason) }));
  const getting = () => plan.texts.map(({ person }) => ({ person, why: 'will get it' }));
  switch (step) {
    case 'will_get':
      return getting();
    case 'named_twice':
      return plan.twice.map((person) => ({ person, why: 'named by more than one source' }));
    case 'call_list':
      return CANNOT_BE_TEXTED.flatMap(dropped).sort((a, b) => (sortOf(a.person) < sortOf(b.person) ? -1 : 1));
    case 'chosen':
      return [...getting(), ...STEPS.flatMap(dropped)];
    default: {
      const reason = STEPS.find((each) => each === step);
      return reason ? dropped(reason) : [];
    }
  }
}

const nameOf = (p: { given_name: string; family_name: string }) => `${p.given_name} ${p.family_name}`.trim();
const sortOf = (p: AudiencePerson) => fold(`${p.family_name} ${p.given_name}`);

export const reachRoutes: Route[] = [
  route({
    method: 'post',
    path: '/api/broadcasts/:id/people',
    role: 'look',
    says: 'The people of one step of the reach ledger: will_get, chosen, named_twice, call_list, or a reason; found by name or number',
    body: Type.Object(
      {
        draft: Draft,
        step: Type.String({ maxLength: 20 }),
        skip: Type.Integer({ minimum: 0 }),
        search: Type.Optional(Type.String({ maxLength: 100 })),
      },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      const plan = await makePlan(app.db, asked.body.draft, asked.now);
      const wanted = fold(asked.body.search ?? '');
      const digits = wanted.replace(/\D/g, '');
      const all = peopleOfStep(plan, asked.body.step);
      const found =
        wanted === ''
          ? all
          : all.filter(
              ({ person }) =>
                fold(nameOf(person)).includes(wanted) || (digits.length > 2 && (person.number ?? '').includes(digits)),
            );
      return {
        total: found.length,
        people: found.slice(asked.body.skip, asked.body.skip + 200).map(({ person, why }) => {
          const winner = asked.body.step === 'same_number' ? plan.winners.get(person.number ?? '') : undefined;
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
    },
  }),
  route({
    method: 'post',
    path: '/api/numbers/read',
    role: 'look',
    says: 'Typed or pasted numbers, read: those that are numbers in E.164, and the others with why not',
    body: Type.Object({ text: Type.String({ maxLength: 200_000 }) }, { additionalProperties: false }),
    async handle(app, asked) {
      const { country } = (await app.db.query<{ country: string }>(`SELECT country FROM workspace`)).rows[0];
      const numbers = new Set<string>();
      const wrong: { text: string; why: string }[] = [];
      let twice = 0;
      for (const piece of asked.body.text.split(/[\n\r,;\t]+/)) {
        const text = piece.trim();
        if (text === '') continue;
        const read = readPhone(text, { country });
        if (!read.ok) {
          if (wrong.length < 100) wrong.push({ text: text.slice(0, 60), why: PHONE_PROBLEM_WORDS[read.problem] });
        } else if (numbers.has(read.number)) twice += 1;
        else numbers.add(read.number);
      }
      return { numbers: [...numbers].slice(0, 5000), wrong, twice, left: Math.max(0, numbers.size - 5000) };
    },
  }),
];
