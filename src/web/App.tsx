import { lazy, Suspense, useMemo } from 'react';
import { Navigate, Route, Routes, useLocation } from 'react-router';
import { useGet, useLive } from './api/client';
import { DeskContext, type Desk, type SessionAnswer } from './api/session';
import { Frame } from './frame/Frame';
import { Join, SignIn } from './frame/SignIn';
import { Trouble, Waiting } from './pieces/small';

const Today = lazy(() => import('./today/Today'));
const People = lazy(() => import('./people/People'));
const Bench = lazy(() => import('./people/Bench'));
const BringIn = lazy(() => import('./people/BringIn'));
const Dependants = lazy(() => import('./people/Dependants'));
const Reach = lazy(() => import('./broadcasts/Reach'));
const Broadcasts = lazy(() => import('./broadcasts/Broadcasts'));
const Sheet = lazy(() => import('./broadcasts/Sheet'));
const LastLook = lazy(() => import('./broadcasts/LastLook'));
const RunView = lazy(() => import('./broadcasts/RunView'));
const Replies = lazy(() => import('./replies/Replies'));
const Outcomes = lazy(() => import('./outcomes/Outcomes'));
const Setup = lazy(() => import('./setup/Setup'));
const Phones = lazy(() => import('./phones/Phones'));

export function App() {
  const session = useGet<SessionAnswer>('/api/session', { keep: true });
  const { pathname } = useLocation();
  const data = session.data;
  useLive(Boolean(data?.account));
  // computed once per answer, so that the demo's clock does not jitter
  const desk = useMemo<Desk | undefined>(
    () =>
      data?.account && data.workspace
        ? { account: data.account, workspace: data.workspace, session: data, offset: Date.parse(data.now) - Date.now() }
        : undefined,
    [data],
  );
  if (session.error && !data)
    return (
      <div style={{ padding: 40 }}>
        <Trouble error={session.error} />
      </div>
    );
  if (!data) return <Waiting what="Opening…" />;
  if (pathname.startsWith('/join/')) return <Join token={pathname.slice(6)} />;
  if (!desk) return <SignIn />;
  return (
    <DeskContext.Provider value={desk}>
      <Frame>
        <Suspense fallback={<Waiting what="Loading…" />}>
          <Routes>
            <Route path="/" element={<Today />} />
            <Route path="/people" element={<People />} />
            <Route path="/people/bring-in" element={<BringIn />} />
            <Route path="/people/bring-in/:id" element={<Bench />} />
            <Route path="/people/dependants" element={<Dependants />} />
            <Route path="/people/:id" element={<People />} />
            <Route path="/broadcasts" element={<Broadcasts />} />
            <Route path="/broadcasts/:id" element={<Sheet />} />
            <Route path="/broadcasts/:id/reach" element={<Reach />} />
            <Route path="/broadcasts/:id/last-look" element={<LastLook />} />
            <Route path="/runs/:id" element={<RunView />} />
            <Route path="/replies" element={<Replies />} />
            <Route path="/outcomes" element={<Outcomes />} />
            <Route path="/setup" element={<Setup />} />
            <Route path="/phones" element={<Phones />} />
            <Route path="*" element={<Navigate to="/" replace />} />
          </Routes>
        </Suspense>
      </Frame>
    </DeskContext.Provider>
  );
}
