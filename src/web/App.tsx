import { useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useMemo, useRef } from 'react';
import { Navigate, Route, Routes, useLocation } from 'react-router';
import { session as sessionApi } from '../core/api/session';
import { useAway } from './api/away';
import { useGet } from './api/client';
import { useLive } from './api/live';
import { DeskContext, type Desk } from './api/session';
import { Broken } from './frame/Broken';
import { Frame } from './frame/Frame';
import { tellHours } from './pieces/format';
import { Words } from './pieces/layout';
import { LeavingAsks } from './pieces/form/unsaved';
import { Said } from './pieces/Said';
import { Trouble, Waiting } from './pieces/small';

// whoever is signed in needs none of it
const SignIn = lazy(() => import('./frame/SignIn').then(({ SignIn: default_ }) => ({ default: default_ })));
const Join = lazy(() => import('./frame/SignIn').then(({ Join: default_ }) => ({ default: default_ })));
const Reset = lazy(() => import('./frame/SignIn').then(({ Reset: default_ }) => ({ default: default_ })));
const Today = lazy(() => import('./today/Today'));
const People = lazy(() => import('./people/People'));
const Bench = lazy(() => import('./people/bench/Bench'));
const BringIn = lazy(() => import('./people/bench/BringIn'));
const Dependants = lazy(() => import('./people/dependants/Dependants'));
const Reach = lazy(() => import('./broadcasts/audience/Reach'));
const Broadcasts = lazy(() => import('./broadcasts/list/Broadcasts'));
const Templates = lazy(() => import('./templates/Templates'));
const When = lazy(() => import('./broadcasts/when/When'));
const Short = lazy(() => import('./broadcasts/list/Short'));
const Sheet = lazy(() => import('./broadcasts/sheet/Sheet'));
const LastLook = lazy(() => import('./broadcasts/last-look/LastLook'));
const RunView = lazy(() => import('./broadcasts/run/RunView'));
const Replies = lazy(() => import('./replies/Replies'));
const Keywords = lazy(() => import('./replies/Keywords'));
const KeywordPoster = lazy(() => import('./replies/KeywordPoster'));
const PassingOn = lazy(() => import('./replies/PassingOn'));
const Outcomes = lazy(() => import('./outcomes/Outcomes'));
const OverTime = lazy(() => import('./outcomes/OverTime'));
const RunSummary = lazy(() => import('./broadcasts/run/RunSummary'));
const Compare = lazy(() => import('./outcomes/Compare'));
const Setup = lazy(() => import('./setup/Setup'));
const Start = lazy(() => import('./setup/Start'));
const Phones = lazy(() => import('./phones/Phones'));

export function App() {
  const away = useAway();
  const client = useQueryClient();
  // while the database is away it is asked for until it is back; then everything is asked anew
  const session = useGet(sessionApi.get, {}, { keep: true, every: away ? 3000 : undefined });
  const wasAway = useRef(away);
  useEffect(() => {
    if (wasAway.current && !away) void client.invalidateQueries();
    wasAway.current = away;
  }, [away, client]);
  const { pathname } = useLocation();
  const data = session.data;
  const stale = useLive(data?.account ? data.moment : undefined);
  // computed once per answer, so that the demo's clock does not jitter
  const desk = useMemo<Desk | undefined>(() => {
    if (!data?.account || !data.workspace) return undefined;
    tellHours(data.workspace.hours);
    return { account: data.account, workspace: data.workspace, session: data, offset: Date.parse(data.now) - Date.now() };
  }, [data]);
  if (session.error && !data)
    return (
      <Words pad={40}>
        <Trouble error={session.error} />
      </Words>
    );
  if (!data) return <Waiting what="Opening…" />;
  if (pathname.startsWith('/join/') || pathname.startsWith('/reset/') || !desk)
    return (
      <Suspense fallback={<Waiting what="Opening…" />}>
        {pathname.startsWith('/join/') ? (
          <Join token={pathname.slice('/join/'.length)} />
        ) : pathname.startsWith('/reset/') ? (
          <Reset token={pathname.slice('/reset/'.length)} />
        ) : (
          <SignIn />
        )}
      </Suspense>
    );
  return (
    <DeskContext value={desk}>
      <Said>
        <LeavingAsks />
        <Frame stale={stale}>
          <Broken at={pathname}>
            <Suspense fallback={<Waiting what="Loading…" />}>
              <Routes>
                <Route path="/" element={<Today />} />
                <Route path="/people" element={<People />} />
                <Route path="/people/bring-in" element={<BringIn />} />
                <Route path="/people/bring-in/:id" element={<Bench />} />
                <Route path="/people/dependants" element={<Dependants />} />
                <Route path="/people/:id" element={<People />} />
                <Route path="/broadcasts" element={<Broadcasts />} />
                <Route path="/broadcasts/templates" element={<Templates />} />
                <Route path="/broadcasts/:id" element={<Sheet />} />
                <Route path="/broadcasts/:id/short" element={<Short />} />
                <Route path="/broadcasts/:id/when" element={<When />} />
                <Route path="/broadcasts/:id/reach" element={<Reach />} />
                <Route path="/broadcasts/:id/last-look" element={<LastLook />} />
                <Route path="/runs/:id" element={<RunView />} />
                <Route path="/runs/:id/summary" element={<RunSummary />} />
                <Route path="/replies" element={<Replies />} />
                <Route path="/replies/keywords" element={<Keywords />} />
                <Route path="/replies/keywords/:id/poster" element={<KeywordPoster />} />
                <Route path="/replies/passing-on" element={<PassingOn />} />
                <Route path="/outcomes" element={<Outcomes />} />
                <Route path="/outcomes/over-time" element={<OverTime />} />
                <Route path="/outcomes/compare" element={<Compare />} />
                <Route path="/start" element={<Start />} />
                <Route path="/setup/:part?" element={<Setup />} />
                <Route path="/phones" element={<Phones />} />
                <Route path="*" element={<Navigate to="/" replace />} />
              </Routes>
            </Suspense>
          </Broken>
        </Frame>
      </Said>
    </DeskContext>
  );
}
