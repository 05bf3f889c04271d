import { act, renderHook } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { useAge } from './useAge.ts';

const reading = (time: string | null, ageS: number | null) => ({ time, ageS });
const pass = (seconds: number) => act(() => vi.advanceTimersByTime(seconds * 1000));

describe('age of a reading', () => {
  beforeEach(() => vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval', 'performance', 'Date'] }));
  afterEach(() => vi.useRealTimers());

  it('grows while nothing new is sent, whatever the clock of the page is set to', () => {
    const view = { clock: 'wall' as const, time: '2026-05-01T08:00:03Z' };
    const first = reading('2026-05-01T08:00:00Z', 3);
    const { result, rerender } = renderHook(({ of }) => useAge(view, of), { initialProps: { of: first } });
    expect(result.current).toBe(3);
    pass(40);
    expect(result.current).toBe(43);
    vi.setSystemTime(Date.UTC(2031, 0, 1));
    pass(1);
    expect(result.current).toBe(44);
    rerender({ of: reading('2026-05-01T08:00:44Z', 0) });
    expect(result.current).toBe(0);
    pass(12);
    expect(result.current).toBe(12);
  });

  it('goes by the bench’s clock while the bench is open', () => {
    const at = (time: string) => ({ clock: 'bench' as const, time });
    const of = reading('2026-05-01T08:00:00Z', 0);
    const { result, rerender } = renderHook(({ view }) => useAge(view, of), {
      initialProps: { view: at('2026-05-01T08:00:05Z') },
    });
    expect(result.current).toBe(5);
    // It stands still: so does the age.
    pass(60);
    expect(result.current).toBe(5);
    rerender({ view: at('2026-05-01T08:10:00Z') });
    expect(result.current).toBe(600);
  });

  it('is none where nothing was heard', () => {
    const view = { clock: 'wall' as const, time: '2026-05-01T08:00:00Z' };
    expect(renderHook(() => useAge(view, reading(null, null))).result.current).toBeNull();
    expect(renderHook(() => useAge(view, undefined)).result.current).toBeNull();
  });
});
