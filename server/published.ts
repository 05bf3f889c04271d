import { readFile } from 'node:fs/promises';

const kept = new Map<string, string>();

/**
 * A description that is made when the app is built, read once: working one out takes longer than the rest of the start, and would hold up everybody
 * who asks meanwhile.
 */
export async function published(name: 'openapi.json' | 'rig.schema.json'): Promise<string> {
  const text = kept.get(name) ?? (await readFile(new URL(`../generated/${name}`, import.meta.url), 'utf8'));
  kept.set(name, text);
  return text;
}
