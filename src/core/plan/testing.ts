import { HoursBook } from '../gate/hours';
import { BUILT_IN, type FieldType } from '../merge/compile';
import { EMPTY_DRAFT, type Draft } from './draft/draft';
import type { PlanCodes } from './words/codes';
import type { History } from './reach/history';
import { makePlan } from './make';
import type { PlanPerson, PlanSender, PlanWorkspace } from './reach/person';
import type { Plan } from './plan';
import { decideReach } from './reach/reach';
import type { Busy } from './times/timetable';
import { resolveWhen } from './times/when';
import { makeWriter } from './words/writer';

/** Plans of a draft over people who are made up for a test: no database, no thread. */
export const WORKSPACE: PlanWorkspace = {
  name: 'Ottermere',
  zone: 'America/New_York',
  currency: 'USD',
  languages: ['en', 'fr', 'es'],
  quiet_from: '21:00',
  quiet_to: '08:00',
  hours: '12',
  public_address: 'https://bell.example.org',
  notices: 'unless_withdrawn',
  at_once: 'any',
  practice: true,
  opt_out_link_wording: { en: 'No more texts:', fr: 'Ne plus recevoir :', es: 'Baja:' },
  opt_out_wording: { en: 'STOP to opt out', fr: 'STOP pour ne plus recevoir', es: 'STOP para no recibir' },
};
export const SENDER: PlanSender = {
  id: 1,
  name: 'Ferry desk',
  kind: 'short',
  address: '72345',
  parts_per_second: 10,
  reply_days: null,
};
/** Wed, Dec 2, 2026, 3:50 PM Eastern. */
export const NOON = Date.parse('2026-12-02T20:50:00Z');

const RATES = [{ prefix: '+1', destination: 'United States, Canada', price_micro: 7500 }];

export const person = (id: number, part: Partial<PlanPerson> = {}): PlanPerson => ({
  id,
  known: true,
  number: `+1207555${String(id).padStart(4, '0')}`,
  number_kind: 'mobile',
  consent: null,
  given_name: 'Ana',
  family_name: 'Vance',
  reference: null,
  language: 'en',
  zone: 'America/New_York',
  zone_guessed: false,
  quiet: null,
  fields: {},
  dependants: [],
  ready: '',
  ...part,
});

export function planFor(
  part: Partial<Draft>,
  people: readonly PlanPerson[],
  around: {
    workspace?: Partial<PlanWorkspace>;
    sender?: Partial<PlanSender>;
    now?: number;
    busy?: Busy[];
    types?: [string, FieldType][];
    codes?: PlanCodes;
    history?: History;
  } = {},
): Plan {
  const draft: Draft = {
    ...EMPTY_DRAFT,
    to: [{ kind: 'everyone' }],
    sender_id: 1,
    words: 'Ottermere: the Heron is off.',
    ...part,
  };
  const workspace = { ...WORKSPACE, ...around.workspace };
  const sender = { ...SENDER, ...around.sender };
  const now = around.now ?? NOON;
  const book = new HoursBook();
  const types = new Map([...BUILT_IN.map((field): [string, FieldType] => [field.slug, field.type]), ...(around.types ?? [])]);
  let digest = '';
  return makePlan({
    draft,
    now,
    workspace,
    sender,
    writer: makeWriter(draft, workspace, sender, types, around.codes),
    codes: around.codes,
    history: around.history,
    when: resolveWhen(draft, workspace, now, book),
    rates: RATES,
    balance: 1_000_000_000,
    reach: decideReach(people, {
      purpose: draft.purpose,
      leaveOut: new Set(),
      unticked: new Set(),
      register: new Set(),
      leaveOutNumbers: new Set(),
    }),
    steppedIn: 0,
    canStepIn: 0,
    gone: [],
    filling: [],
    busy: around.busy ?? [],
    book,
    // not a hash: what goes into it, so that a test sees what differs
    hash: () => ({ update: (text: string) => (digest += text), digest: () => digest }),
  });
}

/** What each number gets, in words. */
export const wordsOf = ({ texts }: Plan): Record<string, string> =>
  Object.fromEntries(Array.from({ length: texts.count }, (_, i) => [texts.people[i].id, texts.write(i)]));
