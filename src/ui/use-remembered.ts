"use client";
import { useCallback, useSyncExternalStore } from "react";

const CHANGED = "lens-remembered";

/** A yes or no that this browser remembers, the same in every part of the page. */
export function useRemembered(name: string, unless: boolean): [boolean, (value: boolean) => void] {
  const key = `lens.${name}`;
  const value = useSyncExternalStore(
    subscribe,
    () => {
      const kept = window.localStorage.getItem(key);
      return kept === null ? unless : kept === "yes";
    },
    () => unless,
  );
  const set = useCallback(
    (next: boolean) => {
      window.localStorage.setItem(key, next ? "yes" : "no");
      window.dispatchEvent(new Event(CHANGED));
    },
    [key],
  );
  return [value, set];
}

function subscribe(tell: () => void): () => void {
  window.addEventListener(CHANGED, tell);
  window.addEventListener("storage", tell);
  return () => {
    window.removeEventListener(CHANGED, tell);
    window.removeEventListener("storage", tell);
  };
}
