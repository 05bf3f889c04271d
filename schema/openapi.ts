import type { TSchema } from '@sinclair/typebox';
import { hoist, withEnums } from './hoist.ts';
import { namedSchemas } from './named.ts';
import { operationSchemas } from './operations.ts';
import { Problem } from './problem.ts';
import { type Media, type RouteDescription, routes } from './routes.ts';

const json = (schema: unknown) => ({ 'application/json': { schema } });
const problem = (description: string) => ({ description, content: { 'application/problem+json': { schema: Problem } } });
const isMedia = (a: TSchema | Media): a is Media => Array.isArray((a as Media).media);
const anyOf = ({ media }: Media) =>
  Object.fromEntries(
    media.map((m) => [m, { schema: m.startsWith('text/') ? { type: 'string' } : { type: 'string', format: 'binary' } }]),
  );

function answerOf(answer: TSchema | Media | null) {
  if (answer === null) return { description: 'Done' };
  return { description: 'The answer', content: isMedia(answer) ? anyOf(answer) : json(answer) };
}

function parametersOf(route: RouteDescription) {
  const inPath = [...route.path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema: { type: 'string' },
  }));
  const { properties = {}, required = [] } = (route.query ?? {}) as { properties?: Record<string, TSchema>; required?: string[] };
  const inQuery = Object.entries(properties).map(([name, schema]) => ({
    name,
    in: 'query',
    required: required.includes(name),
    schema,
  }));
  return [...inPath, ...inQuery];
}

function operationOf(name: string, route: RouteDescription) {
  const parameters = parametersOf(route);
  const problems = { 400: 'Bad input', ...route.problems };
  return {
    operationId: name,
    summary: route.summary,
    ...(parameters.length > 0 ? { parameters } : {}),
    ...(route.body ? { requestBody: { required: true, content: json(route.body) } } : {}),
    ...(route.rawBody ? { requestBody: { required: true, content: anyOf(route.rawBody) } } : {}),
    responses: {
      ...Object.fromEntries(Object.entries(route.answers).map(([status, answer]) => [status, answerOf(answer)])),
      ...Object.fromEntries(Object.entries(problems).map(([status, text]) => [status, problem(text)])),
    },
  };
}

/** The OpenAPI 3.1 description of everything under `/api`, made from the tables that check the input. */
export function openApi(): Record<string, unknown> {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const [name, route] of Object.entries(routes) as [string, RouteDescription][]) {
    const path = `/api${route.path}`;
    paths[path] = { ...paths[path], [route.method]: operationOf(name, route) };
  }
  for (const [name, o] of Object.entries(operationSchemas)) {
    paths[`/api/calc/${name}`] = {
      post: {
        operationId: name,
        summary: o.summary,
        requestBody: { required: true, content: json(o.input) },
        responses: { 200: answerOf(o.output), 400: problem('Bad input') },
      },
    };
  }
  const { document, definitions } = hoist(
    withEnums(paths),
    withEnums({ ...namedSchemas, Problem }) as Record<string, unknown>,
    '#/components/schemas/',
  );
  return {
    openapi: '3.1.0',
    info: {
      title: 'Druckwerk',
      version: '1',
      description: 'Pressures are gauge pressures in kPa, temperatures in °C, times ISO 8601 in UTC. Unknown fields are refused.',
    },
    paths: document,
    components: { schemas: definitions },
  };
}
