import { ThemeProvider } from '@mui/material/styles';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, configure, fireEvent, render, screen, within, type RenderResult } from '@testing-library/react';
import type { ReactNode } from 'react';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { expect, onTestFinished, vi } from 'vitest';
import type { Topic } from '../core/api/topics';
import { askAgain } from './api/client';
import { DeskContext, type Desk } from './api/session';
import { LeavingAsks } from './pieces/form/unsaved';
import { Said } from './pieces/Said';
import { themeOf } from './theme/theme';

// what is waited for comes or does not; how fast the machine is decides nothing
configure({ asyncUtilTimeout: 60_000 });

/** A desk at which somebody who may manage sits, in Eastern time. */
export const DESK: Desk = {
  account: { id: 1, name: 'Ana Reyes', email: 'ana@ottermere.example', role: 'manage', own_number: null, place: '' },
  workspace: {
    name: 'Ottermere',
    zone: 'America/New_York',
    country: 'US',
    currency: 'USD',
    languages: ['en', 'fr'],
    quiet_from: '21:00',
    quiet_to: '08:00',
    hours: '12',
    notices: 'unless_withdrawn',
  },
  session: { account: null, workspace: null, name: 'Ottermere', demo: true, practice: true, now: '2026-12-02T20:50:00.000Z' },
  offset: Date.parse('2026-12-02T20:50:00.000Z') - Date.now(),
};

/** Shows something as the application does: themed, at a desk, with a router that can ask before it leaves. */
export function show(
  ui: ReactNode,
  at = '/',
  path = '*',
): RenderResult & { router: ReturnType<typeof createMemoryRouter>; changed: (...topics: Topic[]) => Promise<void> } {
  const router = createMemoryRouter(
    [
      { path: '/elsewhere', element: <p>Elsewhere</p> },
      {
        path,
        element: (
          <>
            <LeavingAsks />
            {ui}
          </>
        ),
      },
      ...(path === '*' ? [] : [{ path: '*', element: <p>Somewhere else</p> }]),
    ],
    { initialEntries: [at] },
  );
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const shown = render(
    <ThemeProvider theme={themeOf('light')}>
      <QueryClientProvider client={client}>
        <DeskContext value={DESK}>
          <Said>
            <RouterProvider router={router} />
          </Said>
        </DeskContext>
      </QueryClientProvider>
    </ThemeProvider>,
  );
  // somebody else has changed something: what depends on it is asked again
  return { ...shown, router, changed: (...topics) => act(() => askAgain(client, topics)) };
}

const NO_SOURCES = { lists: [], tags: [], segments: [], fields: [] };

/**
 * A server of a few answers, by method and path, or made when they are asked for; what was asked of it is remembered. A test in which it is
 * asked for something else fails at its end.
 */
export function serve(prepared: Record<string, unknown>): {
  asked: { call: string; body: unknown }[];
  /** Of what was asked, what does something: each with what it was given. */
  acts(): [call: string, body: unknown][];
} {
  // what words are said by stands wherever words do
  const answers = Object.assign(prepared, { 'GET /api/people/sources': prepared['GET /api/people/sources'] ?? NO_SOURCES });
  const asked: { call: string; body: unknown }[] = [];
  const unprepared = new Set<string>();
  onTestFinished(() => expect([...unprepared], 'asked of the server, which had no answer prepared').toEqual([]));
  vi.stubGlobal('fetch', (address: string, init?: RequestInit) => {
    const call = `${init?.method ?? 'GET'} ${address.replace(/\?.*/, '')}`;
    asked.push({ call, body: typeof init?.body === 'string' ? (JSON.parse(init.body) as unknown) : undefined });
    if (!(call in answers)) unprepared.add(call);
    const given = answers[call] ?? {};
    const answer: unknown = typeof given === 'function' ? (given as (address: string) => unknown)(address) : given;
    // a broken line
    if (answer instanceof TypeError) return Promise.reject(answer);
    // one that takes its time
    if (answer instanceof Promise) return answer.then((later: unknown) => new Response(JSON.stringify(later)));
    const refused = answer instanceof Response;
    return Promise.resolve(refused ? answer.clone() : new Response(JSON.stringify(answer)));
  });
  return {
    asked,
    acts: () => asked.filter(({ call }) => !call.startsWith('GET')).map(({ call, body }) => [call, body]),
  };
}

/** Chooses from a menu of values by its name, as a pointer does. */
export function choose(label: string, words: string | RegExp, at = 0): void {
  fireEvent.mouseDown(screen.getAllByLabelText(label)[at]);
  fireEvent.click(within(screen.getByRole('listbox')).getByText(words));
}

/** A refusal as the server gives it (RFC 9457). */
export const refusal = (status: number, title: string, more: object = {}): Response =>
  new Response(JSON.stringify({ title, ...more }), { status });
