import { useSyncExternalStore } from 'react';
import { createStore, type StoreApi } from 'zustand/vanilla';

/** What every store stands on: a state that is replaced, never changed, and those who hear of it. */
export abstract class Store<S extends object> {
  private readonly api: StoreApi<S>;

  constructor(initial: S) {
    this.api = createStore<S>(() => initial);
  }

  readonly snapshot = (): S => this.api.getState();

  readonly subscribe = (listener: () => void): (() => void) => this.api.subscribe(listener);

  protected set(part: Partial<S>): void {
    this.api.setState(part);
  }
}

/** A part of a store's state; renders again only when that part is another. Parts are values, or objects that stay the same. */
export function usePart<S extends object, P>(store: Store<S>, part: (state: S) => P): P {
  const get = () => part(store.snapshot());
  return useSyncExternalStore(store.subscribe, get, get);
}

/** The store's present state; renders again when it changes. */
export function useStore<S extends object>(store: Store<S>): S {
  return useSyncExternalStore(store.subscribe, store.snapshot, store.snapshot);
}
