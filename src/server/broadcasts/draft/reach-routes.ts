import { workspaceOf, countryOf } from '../../setup/for-others';
import { reach } from './reach-address';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { holderOf } from '../../codes/for-others';
import { mend, OFFERED_FIXES, SAFE_FIXES, type MendRules } from '../../../core/people/mend-number';
import { numberPieces } from '../../../core/phone/number-list';
import { PHONE_PROBLEM_WORDS, readPhone, type PhoneRead } from '../../../core/phone/read';
import { idOf, route, type Route } from '../../http/route';

/** What is wrong may be mended as on the bench, by whoever sees what would come of it. */
const ANY_FIX: MendRules = { fixes: new Set([...SAFE_FIXES, ...OFFERED_FIXES]), twoNumbers: 'first' };

export const reachRoutes: Route[] = [
  route(broadcasts.people, async (app, asked) => {
    return app.plans.step(
      asked.body.draft,
      asked.body.step,
      asked.body.search ?? '',
      asked.body.skip,
      200,
      asked.now,
      holderOf(idOf(asked.params.id)),
    );
  }),
  route(broadcasts.aboutWhom, async (app, asked) => ({
    choices: await app.plans.aboutWhom(asked.body.draft, asked.now, holderOf(idOf(asked.params.id))),
  })),
  route(broadcasts.checkLinks, async (app, asked) => {
    const own = new URL((await workspaceOf(app.db)).public_address).host;
    const { addresses } = asked.body;
    return { links: await Promise.all(addresses.map(async (address) => ({ address, ...(await reach(address, [own])) }))) };
  }),
  route(broadcasts.readNumbers, async (app, asked) => {
    const country = await countryOf(app.db);
    const numbers = new Set<string>();
    const wrong: { text: string; why: string; after: string | null }[] = [];
    let twice = 0;
    let began = performance.now();
    const known = new Map<string, PhoneRead>();
    for (const text of numberPieces(asked.body.text)) {
      // a hundred thousand pieces make nobody wait, and the same piece is read once
      if (performance.now() - began > 25) {
        await new Promise((resolve) => setImmediate(resolve));
        began = performance.now();
      }
      const read = known.get(text) ?? readPhone(text, { country });
      known.set(text, read);
      if (!read.ok) {
        if (wrong.length < 100)
          wrong.push({
            text: text.slice(0, 60),
            why: PHONE_PROBLEM_WORDS[read.problem],
            after: mend(text, { country }, ANY_FIX).fix?.after ?? null,
          });
      } else if (numbers.has(read.number)) twice += 1;
      else numbers.add(read.number);
    }
    return { numbers: [...numbers].slice(0, 5000), wrong, twice, left: Math.max(0, numbers.size - 5000) };
  }),
];
