import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render } from '@testing-library/react';
import userEvent, { type UserEvent } from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { MemoryRouter, Outlet, Route, Routes } from 'react-router';
import { vi } from 'vitest';
import type { Alarm, WatchView } from '#schema/alarm.ts';
import type { WholeRig } from '../data/queries.ts';
import { connectToasts, type Toast } from '../state/toast.ts';
import { readyRig, steadyView } from './rigs.ts';

/** What a page asked the server for. */
export interface Asked {
  method: string;
  path: string;
  body: unknown;
  keepalive: boolean;
}

/** Answers of a made-up server, by method and path without `/api`; a function gets what was sent. A number is a refusal of that status. */
export type Answers = Record<string, unknown | ((asked: Asked) => unknown)>;

export interface Mounted {
  user: UserEvent;
  asked: Asked[];
  toasts: Toast[];
  client: QueryClient;
  /** What was sent to a path, the latest last. */
  sentTo(path: string): unknown[];
}

/** Show a part of the app as the app shows it: inside its rig, its router and its cache, before a server that answers as told. */
export function mount(node: ReactNode, answers: Answers = {}, whole: WholeRig = readyRig()): Mounted {
  cleanup();
  const asked: Asked[] = [];
  const toasts: Toast[] = [];
  connectToasts((t) => toasts.push(t));
  vi.stubGlobal('fetch', async (url: string, init: RequestInit = {}) => {
    const path = url.replace(/^\/api/, '');
    const method = init.method ?? 'GET';
    const body = typeof init.body === 'string' ? JSON.parse(init.body) : init.body;
    const question: Asked = { method, path, body, keepalive: init.keepalive ?? false };
    asked.push(question);
    const known = Object.keys(answers)
      .filter((k) => `${method} ${path}`.startsWith(k))
      .sort((a, b) => b.length - a.length)[0];
    if (known === undefined)
      return new Response(JSON.stringify({ type: 'about:blank', title: 'Not found', status: 404 }), { status: 404 });
    const told = answers[known];
    const answer = typeof told === 'function' ? await (told as (a: Asked) => unknown)(question) : told;
    if (typeof answer === 'number') {
      const problem = { type: 'about:blank', title: 'Refused', status: answer, detail: 'The server refuses.' };
      return new Response(JSON.stringify(problem), { status: answer });
    }
    return new Response(JSON.stringify(answer), { status: 200 });
  });
  const client = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: 30_000 } } });
  render(
    <QueryClientProvider client={client}>
      <MemoryRouter>
        <Routes>
          <Route element={<Outlet context={whole} />}>
            <Route path="*" element={node} />
          </Route>
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return {
    user: userEvent.setup(),
    asked,
    toasts,
    client,
    sentTo: (path) => asked.filter((a) => a.path === path && a.method !== 'GET').map((a) => a.body),
  };
}

/** The watch of `readyRig`, every wheel steady unless told otherwise. */
export function watchView(
  change: Partial<WatchView> = {},
  wheels: Record<string, Parameters<typeof steadyView>[0]> = {},
): WatchView {
  return {
    rigId: 'r',
    time: '2026-05-01T08:00:10.000Z',
    revision: 'a-1',
    clock: 'wall',
    wheels: readyRig().wheels.map((w) =>
      steadyView({ position: w.position, sensorId: w.wheel.sensor?.id ?? null, ...wheels[w.position] }),
    ),
    silencedUntil: null,
    airC: 20,
    moving: null,
    resting: [],
    missing: [],
    topUp: null,
    track: null,
    ...change,
  };
}

let next = 1;
/** An alarm that is open, a low of A1L unless told otherwise. */
export const openAlarm = (change: Partial<Alarm> = {}): Alarm => ({
  id: `alarm-${next++}`,
  rigId: 'r',
  position: 'A1L',
  sensorId: 'A00000',
  kind: 'low',
  severity: 'stop',
  fromTime: '2026-05-01T07:50:00.000Z',
  toTime: null,
  acknowledgedAt: null,
  limit: 450,
  value: 440,
  worst: 430,
  evidence: null,
  practice: false,
  ...change,
});
