"use client";
import { createContext, useContext, useSyncExternalStore } from "react";
import { LOOK_COOKIE, type Look, lookStyle, readLook, USUAL, writeLook } from "@/core/house/look";

const CHANGED = "lens-look";

/** The look that the page came with. */
export const LookShown = createContext<string>(writeLook(USUAL));

/** How code is drawn for who looks, and a way to choose otherwise; kept by this browser. */
export function useLook(): [Look, (look: Look) => void] {
  const first = useContext(LookShown);
  const kept = useSyncExternalStore(
    (tell) => {
      window.addEventListener(CHANGED, tell);
      return () => window.removeEventListener(CHANGED, tell);
    },
    () => document.documentElement.dataset.look ?? first,
    () => first,
  );
  return [readLook(kept), choose];
}

function choose(look: Look): void {
  const root = document.documentElement;
  root.dataset.look = writeLook(look);
  for (const [name, value] of Object.entries(lookStyle(look))) root.style.setProperty(name, value);
  // biome-ignore lint/suspicious/noDocumentCookie: the server reads it to draw the first picture with it
  document.cookie = `${LOOK_COOKIE}=${writeLook(look)}; path=/; max-age=31536000; samesite=lax`;
  window.dispatchEvent(new Event(CHANGED));
}
