"use client";
import { createContext, useCallback, useContext, useMemo, useState, useSyncExternalStore } from "react";

/** Whose drafts are kept here: another person at the same browser neither sees nor changes them. Empty where nobody is signed in. */
export const DraftOwner = createContext("");

export interface Draft<T> {
  value: T;
  /** Something was written and not sent. */
  begun: boolean;
  change: (next: T) => void;
  /** It was sent, or is not wanted any more. */
  forget: () => void;
}

const PREFIX = "lens.draft";
const CHANGED = "lens-draft";
/** A draft that nobody came back to for so long is let go. */
const LASTS = 90 * 86_400_000;

/**
 * What is typed and not sent yet, kept in this browser as it is typed, by person and place: a reload, a closed sheet, a lost network or an ended
 * session lose none of it. `place` names the field, such as "reply t1"; `unless` is what stands there before anything is typed.
 */
export function useDraft<T>(place: string, unless: T): Draft<T> {
  const owner = useContext(DraftOwner);
  const key = `${PREFIX} ${owner} ${place}`;
  // Where the browser keeps nothing (its store is full, or off), what is typed is kept as long as the page.
  const [spare, setSpare] = useState<string | null>(null);
  const raw = useSyncExternalStore(
    subscribe,
    () => read(key),
    () => null,
  );
  const text = raw ?? spare;
  const kept = useMemo(() => (text === null ? null : parse<T>(text)), [text]);
  const change = useCallback(
    (next: T) => {
      const made = JSON.stringify({ at: Date.now(), value: next });
      setSpare(write(key, made) ? null : made);
    },
    [key],
  );
  const forget = useCallback(() => {
    setSpare(null);
    write(key, null);
  }, [key]);
  return { value: kept ? kept.value : unless, begun: kept !== null, change, forget };
}

/** The same for what is looked at once, such as what a server could not keep: nothing is drawn anew when it changes. */
export function useSpare<T>(place: string) {
  const owner = useContext(DraftOwner);
  const key = `${PREFIX} ${owner} ${place}`;
  return useMemo(
    () => ({
      value: (): T | null => parse<T>(read(key) ?? "")?.value ?? null,
      keep: (value: T) => void write(key, JSON.stringify({ at: Date.now(), value })),
      forget: () => void (read(key) !== null && write(key, null)),
    }),
    [key],
  );
}

/** Lets go of what nobody came back to. */
export function forgetOldDrafts(): void {
  try {
    for (const key of Object.keys(window.localStorage)) {
      if (!key.startsWith(PREFIX)) continue;
      const kept = parse(window.localStorage.getItem(key) ?? "");
      if (!kept || kept.at < Date.now() - LASTS) window.localStorage.removeItem(key);
    }
  } catch {
    // Without a store there is nothing to let go of.
  }
}

function parse<T>(text: string): { at: number; value: T } | null {
  try {
    const kept = JSON.parse(text) as { at: number; value: T };
    return typeof kept === "object" && kept !== null && "value" in kept ? kept : null;
  } catch {
    return null;
  }
}

function read(key: string): string | null {
  try {
    return window.localStorage.getItem(key);
  } catch {
    return null;
  }
}

/** Whether it was kept. */
function write(key: string, text: string | null): boolean {
  try {
    if (text === null) window.localStorage.removeItem(key);
    else window.localStorage.setItem(key, text);
    window.dispatchEvent(new Event(CHANGED));
    return true;
  } catch {
    return text === null;
  }
}

/** Told when something was typed here, or in another window of the same browser. */
function subscribe(tell: () => void): () => void {
  for (const name of [CHANGED, "storage"]) window.addEventListener(name, tell);
  return () => {
    for (const name of [CHANGED, "storage"]) window.removeEventListener(name, tell);
  };
}
