import { useSyncExternalStore } from 'react';

/** One value for the whole page, outside of any component. */
export interface SharedValue<T> {
  get(): T;
  set(next: T): void;
  /** The value in a component, drawn again when it changes. */
  use(): T;
}

/** @param start what it is until it is set */
export function sharedValue<T>(start: T): SharedValue<T> {
  let current = start;
  const listeners = new Set<() => void>();
  const get = () => current;
  const subscribe = (listener: () => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  };
  return {
    get,
    set(next) {
      if (Object.is(next, current)) return;
      current = next;
      for (const l of listeners) l();
    },
    use: () => useSyncExternalStore(subscribe, get),
  };
}
