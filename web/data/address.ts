import type { Body, Params, ParamsOf, Query, RouteName, Routes } from '#schema/routes.ts';
import { paths } from '../../generated/paths.js';

/** What goes with a request to a route: its parameters, what follows the question mark, its body. */
export type AskOf<N extends RouteName> = ([ParamsOf<Routes[N]['path']>] extends [never] ? unknown : { params: Params<N> }) &
  (Routes[N] extends { query: unknown } ? { query?: Query<N> } : unknown) &
  (Routes[N] extends { body: unknown } ? { body: Body<N> } : unknown) & {
    /** A body that is no JSON document. */
    raw?: Blob;
    signal?: AbortSignal;
  };

/** The address of a route, for a link, an image or a stream. */
export function addressOf<N extends RouteName>(name: N, asked: Omit<AskOf<N>, 'body' | 'raw' | 'signal'>): string {
  const { params = {}, query = {} } = asked as { params?: Record<string, string>; query?: Record<string, unknown> };
  const path = paths[name][1].replaceAll(/\{(\w+)\}/g, (_, key: string) => encodeURIComponent(params[key] ?? ''));
  const set = Object.entries(query).filter(([, v]) => v !== undefined && v !== null);
  const search = new URLSearchParams(set.map(([k, v]) => [k, String(v)])).toString();
  return `/api${path}${search === '' ? '' : `?${search}`}`;
}
