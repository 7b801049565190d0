"use client";
import { useCallback, useSyncExternalStore } from "react";

const CHANGED = "lens-remembered";

/** A choice that this browser remembers under a name, the same in every part of the page. */
export function useRemembered<T extends string>(name: string, unless: T): [T, (value: T) => void] {
  const key = `lens.${name}`;
  const value = useSyncExternalStore(
    subscribe,
    () => (window.localStorage.getItem(key) as T | null) ?? unless,
    () => unless,
  );
  const set = useCallback(
    (next: T) => {
      window.localStorage.setItem(key, next);
      window.dispatchEvent(new Event(CHANGED));
    },
    [key],
  );
  return [value, set];
}

/** Whether the window is narrower than a number of pixels. */
export function useNarrowerThan(width: number): boolean {
  return useSyncExternalStore(
    subscribe,
    () => window.innerWidth < width,
    () => false,
  );
}

const EVENTS = [CHANGED, "storage", "resize"];

function subscribe(tell: () => void): () => void {
  for (const name of EVENTS) window.addEventListener(name, tell);
  return () => {
    for (const name of EVENTS) window.removeEventListener(name, tell);
  };
}
