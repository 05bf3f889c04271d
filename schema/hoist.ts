/** Schemas shorter than this are written where they are used, characters of JSON. */
const LEAST = 120;

interface Hoisted {
  document: unknown;
  definitions: Record<string, unknown>;
}

/** Whether an object describes a value. */
const isSchema = (o: Record<string, unknown>): boolean =>
  typeof o.type === 'string' || Array.isArray(o.anyOf) || Array.isArray(o.enum);

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/**
 * A document in which every schema that has a name, or is written out twice, is a reference to its definition.
 * @param named schemas with the names they get; the same content anywhere becomes a reference
 * @param base where definitions are found, such as `#/$defs/`
 */
export function hoist(document: unknown, named: Readonly<Record<string, unknown>>, base: string): Hoisted {
  const names = new Map<string, string>();
  const contents = new Map<string, unknown>();
  const add = (name: string, text: string, content: unknown) => {
    names.set(text, name);
    contents.set(name, content);
  };
  for (const [name, schema] of Object.entries(named)) add(name, JSON.stringify(schema), schema);
  const count = new Map<string, number>();
  const seen = (value: unknown, key: string): void => {
    if (!isObject(value)) {
      if (Array.isArray(value)) for (const v of value) seen(v, key);
      return;
    }
    if (isSchema(value)) {
      const text = JSON.stringify(value);
      const times = (count.get(text) ?? 0) + 1;
      count.set(text, times);
      // Parts of what is written out twice are counted once: they are inside the one definition.
      if (times > 1 && text.length >= LEAST) {
        if (!names.has(text)) add(freshName(key, contents), text, value);
        return;
      }
    }
    for (const [k, v] of Object.entries(value)) {
      if (k === 'properties' && isObject(v)) for (const [name, schema] of Object.entries(v)) seen(schema, name);
      else seen(v, k === 'items' || k === 'anyOf' ? key : k);
    }
  };
  seen(document, 'Schema');
  for (const [name, schema] of Object.entries(named))
    if (isObject(schema)) for (const [k, v] of Object.entries(schema)) seen(v, k === 'properties' ? name : k);
  const definitions: Record<string, unknown> = {};
  const replaced = (value: unknown, self: string | null): unknown => {
    if (Array.isArray(value)) return value.map((v) => replaced(v, null));
    if (!isObject(value)) return value;
    const name = names.get(JSON.stringify(value));
    if (name !== undefined && name !== self) {
      if (!(name in definitions)) {
        definitions[name] = null;
        definitions[name] = replaced(contents.get(name), name);
      }
      return { $ref: `${base}${name}` };
    }
    const each = (o: Record<string, unknown>) => Object.fromEntries(Object.entries(o).map(([k, v]) => [k, replaced(v, null)]));
    // A field may be called `type`: the list of fields is no schema itself.
    return Object.fromEntries(
      Object.entries(value).map(([k, v]) => [k, k === 'properties' && isObject(v) ? each(v) : replaced(v, null)]),
    );
  };
  const out = replaced(document, null);
  return { document: out, definitions: Object.fromEntries(Object.entries(definitions).sort(([a], [b]) => (a < b ? -1 : 1))) };
}

function freshName(key: string, taken: ReadonlyMap<string, unknown>): string {
  const base = key.replaceAll(/[^A-Za-z0-9]/g, '').replace(/^./, (c) => c.toUpperCase()) || 'Schema';
  let name = base;
  for (let i = 2; taken.has(name); i += 1) name = `${base}${i}`;
  return name;
}

/** The same schema for reading: a choice among fixed values is an `enum`. */
export function withEnums(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(withEnums);
  if (!isObject(value)) return value;
  const { anyOf, ...rest } = value;
  if (Array.isArray(anyOf) && anyOf.length > 1 && anyOf.every((a) => isObject(a) && ('const' in a || a.type === 'null'))) {
    const values = (anyOf as Record<string, unknown>[]).map((a) => ('const' in a ? a.const : null));
    return { ...(withEnums(rest) as object), enum: values };
  }
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, withEnums(v)]));
}
