"use client";
import { useCallback, useEffect, useRef, useState } from "react";

const PAUSE = 350;
/** Until it is tried again: a second first, and longer each time, so that what is refused for good asks no more than it has to. */
const AGAIN = 1_000;
const LONGEST_AGAIN = 30_000;

interface Latest<T> {
  value: T;
  kept: T;
  timer: number;
  pause: number;
  /** What is on its way. */
  saving: Promise<string | null> | null;
  save: (value: T, leaving: boolean) => Promise<string | null>;
}

/**
 * Something that is written and kept on the server: a moment after each pause, and at once when the page is left. What could not be kept
 * stays as it is, is said, and is tried again. `save` gives the reason when it is refused, else null; it is not called again before it has
 * answered, but when the page is left. When `initial` becomes another, since the same was written elsewhere, that is taken over, unless
 * something waits to be kept here.
 */
export function useKept<T>(initial: T, save: (value: T, leaving: boolean) => Promise<string | null>) {
  const [value, setValue] = useState(initial);
  const [state, setState] = useState("");
  const [problem, setProblem] = useState("");
  const latest = useRef<Latest<T>>({ value: initial, kept: initial, timer: 0, pause: AGAIN, saving: null, save });
  latest.current.save = save;

  const flush = useCallback(async (leaving = false): Promise<string | null> => {
    const now = latest.current;
    window.clearTimeout(now.timer);
    while (now.saving && !leaving) await now.saving;
    if (now.value === now.kept) return null;
    const sending = now.value;
    setState("keeping …");
    const saving = now.save(sending, leaving);
    now.saving = saving;
    const refusal = await saving;
    if (now.saving === saving) now.saving = null;
    setProblem(refusal ? `Not kept yet: ${refusal}` : "");
    setState(refusal ? "" : "kept");
    if (refusal) {
      now.timer = window.setTimeout(() => void flush(), now.pause);
      now.pause = Math.min(LONGEST_AGAIN, 2 * now.pause);
    } else {
      now.kept = sending;
      now.pause = AGAIN;
    }
    return refusal;
  }, []);

  const told = JSON.stringify(initial);
  const toldLast = useRef(told);
  useEffect(() => {
    if (toldLast.current === told) return;
    toldLast.current = told;
    const now = latest.current;
    if (now.saving || now.value !== now.kept || JSON.stringify(now.value) === told) return;
    now.value = JSON.parse(told);
    now.kept = now.value;
    setValue(now.value);
  }, [told]);

  useEffect(() => {
    const leave = () => void flush(true);
    // Back online, or signed in again: what could not be kept goes at once.
    const back = () => void flush();
    window.addEventListener("pagehide", leave);
    window.addEventListener("online", back);
    return () => {
      window.removeEventListener("pagehide", leave);
      window.removeEventListener("online", back);
      void flush();
    };
  }, [flush]);
  const keep = useCallback(() => flush(), [flush]);
  const pending = useCallback((): T | null => {
    const now = latest.current;
    return now.value === now.kept ? null : now.value;
  }, []);

  return {
    value,
    state,
    problem,
    change: (next: T) => {
      setValue(next);
      latest.current.value = next;
      window.clearTimeout(latest.current.timer);
      latest.current.timer = window.setTimeout(() => void flush(), PAUSE);
    },
    /** Keeps it now; gives the reason when that is refused. */
    flush: keep,
    /** What is not kept yet; null where all is. */
    pending,
    /** Forgets what was written and not kept. */
    cancel: () => {
      window.clearTimeout(latest.current.timer);
      latest.current.kept = latest.current.value;
    },
  };
}
