"use client";
import { useEffect, useReducer, useRef } from "react";

/** Whether a pointer is held down, and what waits for its release: what moves between press and release is not what was pressed. */
let pressed = false;
const waiting = new Set<() => void>();

function release(): void {
  // The click of a press comes right behind its release.
  setTimeout(() => {
    pressed = false;
    const those = [...waiting];
    waiting.clear();
    for (const then of those) then();
  }, 0);
}

if (typeof window !== "undefined") {
  const press = () => {
    pressed = true;
  };
  window.addEventListener("pointerdown", press, true);
  for (const name of ["pointerup", "pointercancel", "blur"]) window.addEventListener(name, release, true);
  // A release that went to another window is noticed as soon as the pointer comes back with nothing held down.
  window.addEventListener("pointermove", ({ buttons }) => pressed && buttons === 0 && release(), true);
}

/** Does something now, or as soon as the press that goes on is over and its click was heard. */
export function afterPress(then: () => void): void {
  if (pressed) waiting.add(then);
  else then();
}

/** A value that does not change while a pointer is held down. */
export function useSteady<T>(value: T): T {
  const [, again] = useReducer((n: number) => n + 1, 0);
  const last = useRef(value);
  const held = pressed && last.current !== value;
  if (!pressed) last.current = value;
  useEffect(() => {
    if (!held) return;
    waiting.add(again);
    return () => void waiting.delete(again);
  }, [held]);
  return last.current;
}
