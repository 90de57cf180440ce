import ICAL from 'ical.js';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { openDesk, type Desk } from '../http/testing/desk';
import { calendarFeed } from './feed';

/** Read back by a second library: what each event says. */
function eventsOf(text: string) {
  const calendar = new ICAL.Component(ICAL.parse(text) as unknown[]);
  return calendar.getAllSubcomponents('vevent').map((each) => {
    const event = new ICAL.Event(each);
    return {
      uid: event.uid,
      summary: event.summary,
      start: event.startDate.toJSDate().toISOString(),
      end: event.endDate.toJSDate().toISOString(),
      status: each.getFirstPropertyValue('status'),
      utc: event.startDate.zone.tzid,
    };
  });
}

test('a feed, read back by another library: runs with their span, later dates of a repeated one, each in UTC', () => {
  const text = calendarFeed({
    workspace: 'Ottermere; Ferry, & co\nand more',
    zone: 'America/New_York',
    address: 'https://bell.example.org/',
    now: Date.parse('2026-12-02T20:50:00Z'),
    runs: [
      {
        id: 7,
        name: 'Fog, "late"; \\ boats',
        state: 'waiting',
        people: 1200,
        first: '2026-12-02T22:30:00Z',
        last: '2026-12-02T23:30:00Z',
      },
      { id: 8, name: '', state: 'missed', people: 1, first: '2026-12-01T22:30:00Z', last: '2026-12-01T22:30:00Z' },
    ],
    series: [
      {
        id: 3,
        name: 'Berths',
        next_date: '2027-03-07',
        when: { kind: 'at', date: '2026-12-06', time: '09:00', repeats: { every: 'week', n: 1, times: 15 } },
      },
    ],
  });
  // §3.1: lines end with CRLF and are at most 75 octets long
  for (const line of text.trimEnd().split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
  expect(text).not.toMatch(/[^\r]\n/);
  expect(eventsOf(text)).toEqual([
    {
      uid: 'run-7@bell.example.org',
      summary: 'Fog, "late"; \\ boats, 1,200 people',
      start: '2026-12-02T22:30:00.000Z',
      end: '2026-12-02T23:30:00.000Z',
      status: 'CONFIRMED',
      utc: 'UTC',
    },
    {
      uid: 'run-8@bell.example.org',
      summary: 'no name, 1 person',
      start: '2026-12-01T22:30:00.000Z',
      end: '2026-12-01T22:45:00.000Z',
      status: 'CANCELLED',
      utc: 'UTC',
    },
    // nine stays nine when the clocks go forward on Mar 14
    expect.objectContaining({
      uid: 'broadcast-3-2027-03-07@bell.example.org',
      start: '2027-03-07T14:00:00.000Z',
      status: 'TENTATIVE',
    }),
    expect.objectContaining({ uid: 'broadcast-3-2027-03-14@bell.example.org', start: '2027-03-14T13:00:00.000Z' }),
  ]);
});

describe.each(ENGINES)('its address on %s', (engine) => {
  let desk: Desk;
  beforeAll(async () => {
    desk = await openDesk(await emptyDb(engine));
  });
  afterAll(() => desk.close());
  const feed = (path: string) => desk.ask('GET', path, undefined);

  test('opens it without a sign-in, until there is another one or none; nothing else does', async () => {
    const { path } = await desk.json<{ path: string }>('POST', '/api/session/calendar');
    const answer = await feed(path);
    expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'text/calendar; charset=utf-8']);
    expect(eventsOf(await answer.text())).toEqual([]);
    const second = await desk.json<{ path: string }>('POST', '/api/session/calendar');
    expect((await feed(path)).status).toBe(404);
    expect((await feed(second.path)).status).toBe(200);
    await desk.json('DELETE', '/api/session/calendar');
    expect((await feed(second.path)).status).toBe(404);
    expect((await feed('/calendar/nothing')).status).toBe(404);
  });
});
