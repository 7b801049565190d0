"use client";
import { useEffect, useRef, useState } from "react";

const PAUSE = 350;
const AGAIN = 1_000;

/**
 * Something that is written and kept on the server: a moment after each pause, and at once when the page is left. What could not be kept
 * stays as it is, is said, and is tried again. `save` gives the reason when it is refused, else null.
 */
export function useKept<T>(initial: T, save: (value: T, leaving: boolean) => Promise<string | null>) {
  const [value, setValue] = useState(initial);
  const [state, setState] = useState("");
  const [problem, setProblem] = useState("");
  const latest = useRef({ value: initial, kept: initial, timer: 0, save });
  latest.current.save = save;

  const flush = async (leaving = false): Promise<string | null> => {
    const now = latest.current;
    window.clearTimeout(now.timer);
    if (now.value === now.kept) return null;
    const sending = now.value;
    setState("keeping …");
    const refusal = await now.save(sending, leaving);
    setProblem(refusal ? `Not kept yet: ${refusal}` : "");
    setState(refusal ? "" : "kept");
    if (refusal) now.timer = window.setTimeout(() => void flushRef.current(), AGAIN);
    else now.kept = sending;
    return refusal;
  };
  const flushRef = useRef(flush);
  flushRef.current = flush;

  useEffect(() => {
    const leave = () => void flushRef.current(true);
    // Back online, or signed in again: what could not be kept goes at once.
    const back = () => void flushRef.current();
    window.addEventListener("pagehide", leave);
    window.addEventListener("online", back);
    return () => {
      window.removeEventListener("pagehide", leave);
      window.removeEventListener("online", back);
      void flushRef.current(false);
    };
  }, []);

  return {
    value,
    state,
    problem,
    change: (next: T) => {
      setValue(next);
      latest.current.value = next;
      window.clearTimeout(latest.current.timer);
      latest.current.timer = window.setTimeout(() => void flushRef.current(), PAUSE);
    },
    /** Keeps it now; gives the reason when that is refused. */
    flush: () => flush(),
    /** Forgets what was written and not kept. */
    cancel: () => {
      window.clearTimeout(latest.current.timer);
      latest.current.kept = latest.current.value;
    },
  };
}
