import type { Role } from '../../core/api/roles';
import { PARTS } from '../setup/for-others';
import { AREAS } from './areas';

export interface Command {
  group: string;
  words: string;
  more?: string;
  /** Other words by which it is looked for. */
  also?: readonly string[];
  /** Where it leads, or what it begins; never what sends. */
  to: string | (() => void);
}

/** Acts that begin something, by where they begin. */
export const ACTS: readonly Command[] = [
  { group: 'Begin', words: 'A short text to a dozen people', to: '/broadcasts?new=short', also: ['quick text'] },
  { group: 'Begin', words: 'Bring in people', to: '/people/bring-in', also: ['import a file', 'paste numbers', 'upload'] },
  { group: 'Begin', words: 'Add a person', to: '/people?add=1', also: ['new person'] },
  { group: 'Begin', words: 'New segment', to: '/people?segment=new', also: ['filter', 'rule'] },
  { group: 'Begin', words: 'New template', to: '/broadcasts/templates?open=new' },
  { group: 'Begin', words: 'New saved piece', to: '/broadcasts/templates?kind=piece&open=new' },
  { group: 'Begin', words: 'New ready answer', to: '/broadcasts/templates?kind=answer&open=new' },
  { group: 'Begin', words: 'New keyword', to: '/replies/keywords?open=new', also: ['sign-up word', 'poster'] },
];

export const VIEWS: readonly Command[] = [
  ...AREAS.map(({ name, path }) => ({ group: 'Views', words: name, to: path })),
  { group: 'Views', words: 'Cannot be texted', to: '/people?cannot=1', also: ['no text number', 'opted out', 'call list'] },
  { group: 'Views', words: 'Dependants', to: '/people/dependants', also: ['children', 'juniors'] },
  { group: 'Views', words: 'Past imports', to: '/people/bring-in', also: ['undo an import'] },
  { group: 'Views', words: 'Templates', to: '/broadcasts/templates' },
  { group: 'Views', words: 'Saved pieces', to: '/broadcasts/templates?kind=piece' },
  { group: 'Views', words: 'Ready answers', to: '/broadcasts/templates?kind=answer' },
  { group: 'Views', words: 'Keywords', to: '/replies/keywords' },
  { group: 'Views', words: 'Passing on', to: '/replies/passing-on', also: ['forward answers'] },
  { group: 'Views', words: 'Outcomes over time', to: '/outcomes/over-time', also: ['charts', 'delivered'] },
  { group: 'Views', words: 'Practice phones', to: '/phones' },
  { group: 'Views', words: 'Practice mailbox', to: '/phones?show=mailbox' },
  { group: 'Views', words: 'What a first text needs', to: '/start' },
];

/** What is set in each part of Setup, in the words that stand there and those that people come with. */
const SET_IN: Partial<Record<(typeof PARTS)[number]['key'], readonly string[]>> = {
  workspace: [
    'Time zone',
    'Country',
    'Currency',
    'Languages',
    'Times are written, 12 or 24 hours',
    'Quiet hours',
    'Opt-out wording, STOP',
    'Answer to HELP',
    'Emergency line',
    'Latest start',
    'Public address of links',
    'Notices unless withdrawn, consent',
  ],
  senders: ['Number we send from', 'Parts a second', 'Replies are read for so many days'],
  prices: ['Price of a part', 'Destinations'],
  balance: ['Add to the balance', 'Money, credit', 'Movements of the balance'],
  carrier: ['Connection to the carrier, SMPP', 'Receipts', 'Alphabet', 'Tests a day'],
  desk: ['Who is on duty', 'Days and hours of the desk', 'Away, what answers them', 'Alarms'],
  mail: ['Mail server', 'Mails come from', 'Answers come to'],
  fields: ['Own fields'],
  team: ['Numbers of the desk, testers', 'Invite someone', 'Roles, what they may do', 'Accounts'],
  account: ['Password', 'Your own number', 'Signed in', 'Landing or desk', 'Calendar'],
  work: ['What goes on by itself', 'Jobs', 'What is kept for a while'],
  record: ['Who did what'],
  api: ['Calls'],
};

export const SETTINGS: readonly Command[] = PARTS.flatMap(({ key, name }) => [
  { group: 'Settings', words: name, to: `/setup/${key}` },
  ...(SET_IN[key] ?? []).map((words) => ({ group: 'Settings', words, more: name, to: `/setup/${key}` })),
]);

/** Of these, what somebody of a role may begin and see. */
export const forRole = (commands: readonly Command[], role: Role): readonly Command[] =>
  role === 'look' ? commands.filter(({ group }) => group !== 'Begin') : commands;
