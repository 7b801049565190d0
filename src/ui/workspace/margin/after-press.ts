"use client";
import { useEffect, useReducer, useRef } from "react";

/** Whether a pointer is held down, and what waits for its release: what moves between press and release is not what was pressed. */
let pressed = false;
const waiting = new Set<() => void>();
/** What is typed goes on until nothing came for so long, in milliseconds. */
const PAUSE = 500;
let typing: ReturnType<typeof setTimeout> | null = null;
const afterTyping = new Set<() => void>();

function tell(those: Set<() => void>): void {
  const told = [...those];
  those.clear();
  for (const then of told) then();
}

function released(): void {
  pressed = false;
  tell(waiting);
}

/** The click of a press comes right behind its release. */
function release(): void {
  setTimeout(released, 0);
}

function paused(): void {
  if (typing) clearTimeout(typing);
  typing = null;
  tell(afterTyping);
}

if (typeof window !== "undefined") {
  const press = () => {
    pressed = true;
  };
  window.addEventListener("pointerdown", press, true);
  const type = () => {
    if (typing) clearTimeout(typing);
    typing = setTimeout(paused, PAUSE);
  };
  window.addEventListener("input", type, true);
  for (const name of ["pointerup", "pointercancel"]) window.addEventListener(name, release, true);
  // Nothing is under the hands of whoever turned to another window. A field that is left for what is pressed says the same word.
  const leave = ({ target }: Event) => {
    if (target instanceof Element) return;
    released();
    paused();
  };
  window.addEventListener("blur", leave, true);
  // A release that went to another window is noticed as soon as the pointer comes back with nothing held down.
  window.addEventListener("pointermove", ({ buttons }) => pressed && buttons === 0 && release(), true);
}

/** Does something now, or as soon as the press that goes on is over and its click was heard. */
export function afterPress(then: () => void): void {
  if (pressed) waiting.add(then);
  else then();
}

/** A value that does not change while a pointer is held down, or while something is typed: nothing moves under the hands. */
export function useSteady<T>(value: T): T {
  const [, again] = useReducer((n: number) => n + 1, 0);
  const last = useRef(value);
  const busy = pressed || typing !== null;
  const held = busy && last.current !== value;
  if (!busy) last.current = value;
  useEffect(() => {
    if (!held) return;
    for (const those of [waiting, afterTyping]) those.add(again);
    return () => {
      for (const those of [waiting, afterTyping]) those.delete(again);
    };
  }, [held]);
  return last.current;
}
