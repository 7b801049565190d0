"use client";
import { useEffect, useRef, useState } from "react";

const PAUSE = 350;
/** Until it is tried again: a second first, and longer each time, so that what is refused for good asks no more than it has to. */
const AGAIN = 1_000;
const LONGEST_AGAIN = 30_000;

/**
 * Something that is written and kept on the server: a moment after each pause, and at once when the page is left. What could not be kept
 * stays as it is, is said, and is tried again. `save` gives the reason when it is refused, else null.
 */
export function useKept<T>(initial: T, save: (value: T, leaving: boolean) => Promise<string | null>) {
  const [value, setValue] = useState(initial);
  const [state, setState] = useState("");
  const [problem, setProblem] = useState("");
  const latest = useRef({ value: initial, kept: initial, timer: 0, pause: AGAIN, save });
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
    if (refusal) {
      now.timer = window.setTimeout(() => void flushRef.current(), now.pause);
      now.pause = Math.min(LONGEST_AGAIN, 2 * now.pause);
    } else {
      now.kept = sending;
      now.pause = AGAIN;
    }
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
