import { Validator } from '@seriousme/openapi-schema-validator';
import { expect, it } from 'vitest';
import { openApi } from './openapi.ts';
import { operationSchemas } from './operations.ts';
import { type RouteDescription, routes } from './routes.ts';

type Described = Record<
  string,
  Record<string, { requestBody?: { content: object }; responses: Record<string, { content?: object }> }>
>;
const description = openApi() as { paths: Described; components: { schemas: Record<string, unknown> } };

// Checked by @seriousme/openapi-schema-validator with the OpenAPI 3.1 schema of the OpenAPI Initiative.
it('is a valid OpenAPI 3.1 file, all of its references found', async () => {
  const validator = new Validator();
  const result = await validator.validate(structuredClone(description));
  expect(result.errors).toBeUndefined();
  expect(result.valid).toBe(true);
  expect(validator.version).toBe('3.1');
  for (const [, ref] of JSON.stringify(description).matchAll(/"\$ref":"#\/components\/schemas\/([^"]+)"/g)) {
    expect(description.components.schemas).toHaveProperty(ref as string);
  }
});

it('has every route with its body and its answers', () => {
  const all = Object.entries(routes) as [string, RouteDescription][];
  expect(Object.keys(description.paths)).toHaveLength(
    new Set(all.map(([, r]) => r.path)).size + Object.keys(operationSchemas).length,
  );
  for (const [name, route] of all) {
    const operation = description.paths[`/api${route.path}`]?.[route.method];
    expect(operation, name).toBeDefined();
    expect(operation?.requestBody !== undefined, name).toBe(route.body !== undefined || route.rawBody !== undefined);
    for (const [status, answer] of Object.entries(route.answers)) {
      expect(operation?.responses[status]?.content !== undefined, `${name} ${status}`).toBe(answer !== null);
    }
  }
});

it('leaves no body as a bare object', () => {
  const bare = (schema: unknown): boolean => JSON.stringify(schema) === '{"type":"object"}' || JSON.stringify(schema) === '{}';
  const found: string[] = [];
  const look = (value: unknown, path: string) => {
    if (typeof value !== 'object' || value === null) return;
    if (path.endsWith('/schema') && bare(value)) found.push(path);
    for (const [k, v] of Object.entries(value)) look(v, `${path}/${k}`);
  };
  look(description.paths, '');
  expect(found).toEqual([]);
});
