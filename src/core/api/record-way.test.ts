import { expect, test } from 'vitest';
import { recordOf } from './record-way';

test.each([
  ['changed a person', '23', {}, { kind: 'person', id: 23 }],
  ['erased a person', '23', {}, undefined],
  ['answered a person', '', {}, undefined],
  ['wrote down consent granted', '4', {}, { kind: 'person', id: 4 }],
  ['agreed to send', 'Winter timetable', { run: 12 }, { kind: 'run', id: 12 }],
  ['paused', 'run 12', {}, { kind: 'run', id: 12 }],
  ['undid an import', 'junior.xlsx', { import: 3 }, { kind: 'import', id: 3 }],
  ['changed a contact', '7', { person: 2 }, { kind: 'dependant', id: 7 }],
  ['deleted a dependant', '7', {}, undefined],
  ['put a broadcast back as it was', '9', {}, { kind: 'broadcast', id: 9 }],
  ['added a sender', 'Ferry desk', {}, { kind: 'setup', part: 'senders' }],
  ['changed the settings', '', {}, { kind: 'setup', part: 'workspace' }],
  ['made a list', 'Berth holders', {}, undefined],
])('%s %s', (act, subject, detail, of) => expect(recordOf({ act, subject, detail })).toEqual(of));
