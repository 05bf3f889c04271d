import express, { type Request, type RequestHandler, type Response, Router } from 'express';
import { explain } from '#schema/explain.ts';
import type { Answer, Body, Params, Query, RouteDescription, RouteName } from '#schema/routes.ts';
import { routes } from '#schema/routes.ts';
import { validators as bodies } from '../generated/bodies.js';
import { validators as queries, type Validator } from '../generated/queries.js';
import { bigJson } from './big-json.ts';
import { badInput, HttpProblem } from './problem.ts';

/** What a handler gets: everything checked against the route's schemas. */
export interface Asked<N extends RouteName> {
  params: Params<N>;
  query: Query<N>;
  body: Body<N>;
  req: Request;
  res: Response;
}

/** An answer with another status than the route's usual one, or with headers. */
export class Reply<T> {
  readonly doc: T;
  readonly status: number | undefined;
  readonly headers: Record<string, string>;

  constructor(doc: T, options: { status?: number; headers?: Record<string, string> } = {}) {
    this.doc = doc;
    this.status = options.status;
    this.headers = options.headers ?? {};
  }
}

class Written {
  readonly written = true;
}
/** The handler has written its answer itself (a stream, a file). */
export const WRITTEN = new Written();

type Result<N extends RouteName> = Answer<N> | Reply<Answer<N>> | Written;
export type Handler<N extends RouteName> = (asked: Asked<N>) => Result<N> | Promise<Result<N>>;
/** A handler for every route of the table, or it doesn't compile. */
export type Handlers = { [N in RouteName]: Handler<N> };

/** Called with every JSON answer before it is sent; tests hold it against the route's schema. */
export type AnswerCheck = (name: RouteName, status: number, doc: unknown) => void;

/** @throws HttpProblem 400 at every field that is wrong */
export function mustBe<T>(valid: Validator<T>, value: unknown): asserts value is T {
  if (!valid(value)) throw badInput(explain(valid.errors));
}

const json = express.json({ limit: 1_000_000, strict: false, type: () => true });
const expressPath = (path: string): string => path.replaceAll(/\{(\w+)\}/g, ':$1');

/** Called before anything else of a request: throws when whoever asks may not. */
export type Gate = (name: RouteName, method: string, req: Request) => void;

/** What a router asks of the server around it. */
export interface Around {
  check?: AnswerCheck | undefined;
  gate?: Gate;
  /** Resolves when what was committed is on the disk. Nothing is answered to a request that may have changed something before that. */
  stored?: () => Promise<void>;
}

/** Express routes for the whole table. */
export function routerOf(handlers: Handlers, { check, gate, stored }: Around = {}): Router {
  const router = Router();
  const methods = new Map<string, Set<string>>();
  for (const name of Object.keys(routes) as RouteName[]) {
    const route: RouteDescription = routes[name];
    const path = expressPath(route.path);
    methods.set(path, (methods.get(path) ?? new Set()).add(route.method.toUpperCase()));
    const parse = !route.body ? [] : route.bodyLimit ? [bigJson(route.bodyLimit)] : [json];
    const allowed: RequestHandler = (req, _res, next) => {
      gate?.(name, route.method, req);
      next();
    };
    router[route.method](path, allowed, ...parse, async (req: Request, res: Response) => {
      // A copy: checking turns "5" into 5, and Express makes the query again each time it is asked for.
      const query: unknown = { ...req.query };
      mustBe(queries[name], query);
      if (route.body) mustBe((bodies as Record<string, Validator>)[name] as Validator, req.body);
      const handler = handlers[name] as Handler<RouteName>;
      const result = await handler({ params: req.params, query, body: req.body, req, res } as unknown as Asked<RouteName>);
      if (route.method !== 'get') await stored?.();
      if (result instanceof Written) return;
      const reply = result instanceof Reply ? result : new Reply(result);
      const status = reply.status ?? Number(Object.keys(route.answers)[0]);
      for (const [header, value] of Object.entries(reply.headers)) res.setHeader(header, value);
      res.status(status);
      if (route.answers[status] === null) {
        res.end();
        return;
      }
      check?.(name, status, reply.doc);
      res.json(reply.doc);
    });
  }
  // Only after all handlers: /rigs/import is a path of its own and would be taken for a rig's.
  for (const [path, known] of methods) {
    router.all(path, (req, res) => {
      if (known.has('GET')) known.add('HEAD');
      res.setHeader('Allow', [...known].sort().join(', '));
      throw new HttpProblem(405, `${req.method} is not a method of this address`, {
        detail: `Use ${[...known].sort().join(' or ')}.`,
      });
    });
  }
  return router;
}
