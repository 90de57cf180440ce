import { Type } from 'typebox';
import { Draft } from '../../core/plan/draft';
import { PHONE_PROBLEM_WORDS, readPhone, type PhoneRead } from '../../core/phone/read';
import { route, type Route } from '../http/route';

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
        skip: Type.Integer({ minimum: 0, maximum: 10_000_000 }),
        search: Type.Optional(Type.String({ maxLength: 100 })),
      },
      { additionalProperties: false },
    ),
    async handle(app, asked) {
      return app.plans.step(asked.body.draft, asked.body.step, asked.body.search ?? '', asked.body.skip, 200, asked.now);
    },
  }),
  route({
    method: 'post',
    path: '/api/numbers/read',
    role: 'look',
    says: 'Typed or pasted numbers, read: those that are numbers in E.164, and the others with why not',
    body: Type.Object({ text: Type.String({ maxLength: 200_000 }) }, { additionalProperties: false }),
    limits: [{ most: 120, seconds: 60, by: 'session' }],
    async handle(app, asked) {
      const { country } = (await app.db.query<{ country: string }>(`SELECT country FROM workspace`)).rows[0];
      const numbers = new Set<string>();
      const wrong: { text: string; why: string }[] = [];
      let twice = 0;
      let began = performance.now();
      const known = new Map<string, PhoneRead>();
      for (const piece of asked.body.text.split(/[\n\r,;\t]+/)) {
        const text = piece.trim();
        if (text === '') continue;
        // a hundred thousand pieces make nobody wait, and the same piece is read once
        if (performance.now() - began > 25) {
          await new Promise((resolve) => setImmediate(resolve));
          began = performance.now();
        }
        const read = known.get(text) ?? readPhone(text, { country });
        known.set(text, read);
        if (!read.ok) {
          if (wrong.length < 100) wrong.push({ text: text.slice(0, 60), why: PHONE_PROBLEM_WORDS[read.problem] });
        } else if (numbers.has(read.number)) twice += 1;
        else numbers.add(read.number);
      }
      return { numbers: [...numbers].slice(0, 5000), wrong, twice, left: Math.max(0, numbers.size - 5000) };
    },
  }),
];
