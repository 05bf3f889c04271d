import { Suspense, useEffect, useState } from 'react';
import { Navigate, Route, Routes, useParams } from 'react-router';
import { unpaired } from '../data/problems.ts';
import { lazyPart } from '../parts/lazy-part.ts';
import { Shell } from './Shell.tsx';

const Yard = lazyPart(() => import('../sheets/yard/Yard.tsx'));
const Layout = lazyPart(() => import('../sheets/layout/Layout.tsx'));
const Kit = lazyPart(() => import('../sheets/kit/Kit.tsx'));
const Pressures = lazyPart(() => import('../sheets/pressures/Pressures.tsx'));
const Alarms = lazyPart(() => import('../sheets/alarms/Alarms.tsx'));
const Pairing = lazyPart(() => import('../sheets/pairing/Pairing.tsx'));
const Fitting = lazyPart(() => import('../sheets/fitting/Fitting.tsx'));
const Radio = lazyPart(() => import('../sheets/radio/Radio.tsx'));
const Upkeep = lazyPart(() => import('../sheets/upkeep/Upkeep.tsx'));
const Faults = lazyPart(() => import('../sheets/faults/Faults.tsx'));
const FirstDrive = lazyPart(() => import('../sheets/first-drive/FirstDrive.tsx'));
const Watch = lazyPart(() => import('../sheets/watch/Watch.tsx'));
const Drive = lazyPart(() => import('../sheets/watch/Drive.tsx'));
const Charts = lazyPart(() => import('../sheets/watch/Charts.tsx'));
const Replay = lazyPart(() => import('../sheets/watch/Replay.tsx'));
const Files = lazyPart(() => import('../sheets/watch/Files.tsx'));
const Logbook = lazyPart(() => import('../sheets/logbook/Logbook.tsx'));
const Lab = lazyPart(() => import('../sheets/lab/Lab.tsx'));
const Bench = lazyPart(() => import('../sheets/bench/Bench.tsx'));
const Pair = lazyPart(() => import('./Pair.tsx'));
const Toasts = lazyPart(() => import('../parts/Toasts.tsx'), true);

function ToWatch() {
  const { rigId } = useParams();
  return <Navigate to={`/rigs/${rigId}/watch`} replace />;
}

export function App() {
  const [later, setLater] = useState(false);
  useEffect(() => setLater(true), []);
  if (unpaired.use())
    return (
      <Suspense fallback={null}>
        <Pair />
      </Suspense>
    );
  return (
    <>
      <Suspense fallback={<p className="p-6 text-ink2">One moment…</p>}>
        <Routes>
          <Route path="pair" element={<Pair />} />
          <Route element={<Shell />}>
            <Route index element={<Yard />} />
            <Route path="rigs/:rigId">
              <Route index element={<ToWatch />} />
              <Route path="layout" element={<Layout />} />
              <Route path="kit" element={<Kit />} />
              <Route path="pressures" element={<Pressures />} />
              <Route path="alarms" element={<Alarms />} />
              <Route path="pairing" element={<Pairing />} />
              <Route path="fitting" element={<Fitting />} />
              <Route path="radio" element={<Radio />} />
              <Route path="first-drive" element={<FirstDrive />} />
              <Route path="watch" element={<Watch />} />
              <Route path="upkeep" element={<Upkeep />} />
              <Route path="faults" element={<Faults />} />
              <Route path="watch/drive" element={<Drive />} />
              <Route path="watch/charts" element={<Charts />} />
              <Route path="watch/replay" element={<Replay />} />
              <Route path="watch/files" element={<Files />} />
              <Route path="logbook" element={<Logbook />} />
              <Route path="lab" element={<Lab />} />
              <Route path="bench" element={<Bench />} />
            </Route>
            <Route path="*" element={<Navigate to="/" replace />} />
          </Route>
        </Routes>
      </Suspense>
      {later && (
        <Suspense fallback={null}>
          <Toasts />
        </Suspense>
      )}
    </>
  );
}
