import { Ajv, type ValidateFunction } from 'ajv';
import addFormats from 'ajv-formats';
import { type RouteDescription, type RouteName, routes } from '#schema/routes.ts';

// Most schemas are compiled for a few answers: tidying their code takes longer than it saves.
const ajv = new Ajv({ strict: false, discriminator: true, code: { optimize: false } });
addFormats.default(ajv);
const compiled = new Map<string, ValidateFunction>();

/**
 * Hold a JSON answer against its route's schema: for tests, so that the table says what is really sent.
 * @throws Error with everything that differs
 */
export function checkAnswer(name: RouteName, status: number, doc: unknown): void {
  const key = `${name} ${status}`;
  let valid = compiled.get(key);
  if (!valid) {
    const schema = (routes[name] as RouteDescription).answers[status];
    if (!schema || 'media' in schema) throw new Error(`${key} is not an answer of the route table`);
    valid = ajv.compile(schema);
    compiled.set(key, valid);
  }
  // As it goes over the line.
  if (!valid(JSON.parse(JSON.stringify(doc)))) {
    throw new Error(`${key}: ${JSON.stringify(valid.errors?.slice(0, 3))}`);
  }
}
