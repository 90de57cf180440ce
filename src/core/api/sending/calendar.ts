import { Type } from 'typebox';
import { endpoint, fileEndpoint } from '../endpoint';
import { Shape } from '../shapes';

/** The calendar of what is scheduled, for programs that show calendars. */
export const calendar = {
  begin: endpoint({
    method: 'post',
    path: '/api/session/calendar',
    role: 'look',
    says: 'A new address of the calendar of what is scheduled; the one before leads nowhere any more',
    answer: Shape({ path: Type.String() }),
  }),
  end: endpoint({
    method: 'delete',
    path: '/api/session/calendar',
    role: 'look',
    says: 'The address of the calendar leads nowhere any more',
  }),
  feed: fileEndpoint({
    path: '/calendar/:token',
    role: 'anyone',
    says: 'What is scheduled and was sent lately, as iCalendar (RFC 5545); the token in the address stands for an account',
    limits: [{ most: 60, seconds: 600, by: 'origin', refusedOnly: true }],
  }),
};
