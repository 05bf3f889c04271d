import { act, renderHook } from '@testing-library/react';
import { beforeEach, expect, it } from 'vitest';
import { readDraft, useDraft } from './drafts.ts';

beforeEach(() => localStorage.clear());

it('outlives its page until it is dropped', () => {
  const first = renderHook(() => useDraft('a', 0));
  act(() => first.result.current[1](5));
  act(() => first.result.current[1]((n) => n + 1));
  expect(first.result.current[0]).toBe(6);
  first.unmount();
  const second = renderHook(() => useDraft('a', 0));
  expect(second.result.current[0]).toBe(6);
  act(() => second.result.current[2]());
  expect([second.result.current[0], readDraft('a')]).toEqual([0, null]);
});

it('two changes in one event count both, and a drop after a change leaves no draft behind', () => {
  const { result } = renderHook(() => useDraft('a', 0));
  act(() => {
    result.current[1]((n) => n + 1);
    result.current[1]((n) => n + 1);
  });
  expect([result.current[0], readDraft('a')]).toEqual([2, 2]);
  act(() => {
    result.current[1](9);
    result.current[2](3);
  });
  expect([result.current[0], readDraft('a')]).toEqual([3, null]);
});

it('of another key it is that key’s draft at once', () => {
  localStorage.setItem('druckwerk.draft.b', '"kept"');
  const { result, rerender } = renderHook(({ key }) => useDraft(key, 'start'), { initialProps: { key: 'a' } });
  act(() => result.current[1]('typed'));
  rerender({ key: 'b' });
  expect(result.current[0]).toBe('kept');
  rerender({ key: 'a' });
  expect(result.current[0]).toBe('typed');
});

it('follows a saved value that changes, unless something else was typed', () => {
  const { result, rerender } = renderHook(({ saved }) => useDraft('a', saved), { initialProps: { saved: 'first' } });
  rerender({ saved: 'second' });
  expect(result.current[0]).toBe('second');
  act(() => result.current[1]('typed'));
  rerender({ saved: 'third' });
  expect(result.current[0]).toBe('typed');
  act(() => result.current[2]());
  expect(result.current[0]).toBe('third');
});
