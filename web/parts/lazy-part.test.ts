import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { fetchPart, PartMissing } from './lazy-part.ts';

const fetched = vi.fn<() => Promise<Response>>();
beforeEach(() => {
  vi.useFakeTimers();
  fetched.mockReset();
  vi.stubGlobal('fetch', fetched);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});
const lineDropped = () => Promise.reject(new TypeError('Failed to fetch'));

it('gives what was fetched, and asks nothing else', async () => {
  expect(await fetchPart(async () => 'part')).toBe('part');
  expect(fetched).not.toHaveBeenCalled();
});

it('waits for a line that is gone for an hour, asking every ten seconds at most', async () => {
  fetched.mockImplementation(lineDropped);
  let there = false;
  let asked = 0;
  const got = fetchPart(async () => {
    asked += 1;
    return there ? 'part' : lineDropped();
  });
  await vi.advanceTimersByTimeAsync(3_600_000);
  expect(asked).toBeGreaterThan(300);
  expect(asked).toBeLessThan(370);
  there = true;
  await vi.advanceTimersByTimeAsync(10_000);
  expect(await got).toBe('part');
});

it('gives up when the server answers and the part is not there: it is of another version', async () => {
  fetched.mockImplementation(async () => new Response('{}'));
  const got = expect(fetchPart(() => Promise.reject(new TypeError('404')))).rejects.toBeInstanceOf(PartMissing);
  await vi.advanceTimersByTimeAsync(5000);
  await got;
});
