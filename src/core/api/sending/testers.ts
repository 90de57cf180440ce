import { Type, type Static } from 'typebox';
import { endpoint } from '../endpoint';
import { Id, Made, Shape } from '../shapes';

const Name = Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' });
export const TesterBody = Shape({
  name: Name,
  /** As it is typed; kept in E.164. */
  number: Type.String({ minLength: 1, maxLength: 30 }),
  /** Gets a copy of every broadcast. */
  copies: Type.Boolean(),
});

export const Tester = Shape({ id: Id, name: Type.String(), number: Type.String(), copies: Type.Boolean() });
export type Tester = Static<typeof Tester>;

/** Numbers of the desk: where test texts may go beside one's own, and who gets a copy of every broadcast. */
export const testers = {
  list: endpoint({
    method: 'get',
    path: '/api/testers',
    role: 'look',
    says: "Numbers that test texts may go to beside one's own, and which get a copy of every broadcast",
    answer: Shape({ testers: Type.Array(Tester) }),
    live: ['setup'],
  }),
  add: endpoint({
    method: 'post',
    path: '/api/testers',
    role: 'manage',
    says: 'Adds a number of the desk',
    body: TesterBody,
    answer: Made,
    changes: ['setup'],
  }),
  change: endpoint({
    method: 'put',
    path: '/api/testers/:id',
    role: 'manage',
    says: 'Whether a number of the desk gets a copy of every broadcast',
    body: Shape({ copies: Type.Boolean() }),
    changes: ['setup'],
  }),
  remove: endpoint({
    method: 'delete',
    path: '/api/testers/:id',
    role: 'manage',
    says: 'Takes a number of the desk away',
    changes: ['setup'],
  }),
};
