"use client";
import { useRemembered } from "../kept/use-remembered";

/** How keys that are a single sign are pressed: by themselves, or only with Alt, so that a slip or a voice does nothing. */
export type LoneKeys = "alone" | "alt";

export function useLoneKeys(): [LoneKeys, (how: LoneKeys) => void] {
  return useRemembered<LoneKeys>("lone keys", "alone");
}

/** Whether a key, as the table of actions names it, is a single sign: a letter, also with Shift, or another that writes something. */
export function isLoneKey(key: string): boolean {
  return /^(?:shift )?\S$/u.test(key);
}
