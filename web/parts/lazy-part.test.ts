import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { fetchPart } from './lazy-part.ts';

const fetched = vi.fn<() => Promise<Response>>();
const page = document.createElement('meta');
beforeEach(() => {
  vi.useFakeTimers();
  fetched.mockReset();
  vi.stubGlobal('fetch', fetched);
  page.name = 'build';
  page.content = 'one';
  document.head.append(page);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
  page.remove();
});
const lineDropped = () => Promise.reject(new TypeError('Failed to fetch'));
const serverOf = (build: string) => async () => new Response('{}', { headers: { 'Druckwerk-Build': build } });

it('gives what was fetched, and asks nothing else', async () => {
  expect(await fetchPart(async () => 'part')).toBe('part');
  expect(fetched).not.toHaveBeenCalled();
});

it('waits for a line that is gone for an hour, asking every ten seconds at most, and comes with it', async () => {
  fetched.mockImplementation(lineDropped);
  let there = false;
  const got = fetchPart(async () => (there ? 'part' : lineDropped()));
  await vi.advanceTimersByTimeAsync(3_600_000);
  expect(fetched.mock.calls.length).toBeGreaterThan(300);
  expect(fetched.mock.calls.length).toBeLessThan(370);
  there = true;
  fetched.mockImplementation(serverOf('one'));
  await vi.advanceTimersByTimeAsync(10_000);
  expect(await got).toBe('part');
});

it('goes on while the server answers and the part does not come, where the page can do without it', async () => {
  fetched.mockImplementation(serverOf('one'));
  let asked = 0;
  const got = fetchPart(async () => {
    asked += 1;
    return asked > 20 ? 'part' : Promise.reject(new TypeError('Importing a module script failed.'));
  }, true);
  await vi.advanceTimersByTimeAsync(240_000);
  expect(await got).toBe('part');
});

it('is called stuck when it fails four times while the server answers; while nobody answers it is waited for', async () => {
  fetched.mockImplementation(lineDropped);
  let asked = 0;
  const got = expect(
    fetchPart(async () => {
      asked += 1;
      return lineDropped();
    }),
  ).rejects.toMatchObject({ why: 'stuck', message: 'Failed to fetch' });
  await vi.advanceTimersByTimeAsync(600_000);
  expect(asked).toBe(1);
  fetched.mockImplementation(serverOf('one'));
  await vi.advanceTimersByTimeAsync(60_000);
  await got;
  expect(asked).toBe(5);
});

it('gives up at once when the server is of another version', async () => {
  fetched.mockImplementation(serverOf('two'));
  const got = expect(fetchPart(() => Promise.reject(new TypeError('404')))).rejects.toMatchObject({ why: 'updated' });
  await vi.advanceTimersByTimeAsync(10);
  await got;
});
