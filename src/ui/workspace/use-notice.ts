"use client";
import { useCallback, useEffect, useState } from "react";
import type { Tell } from "./state/context";

/** What the footing says for a while, and how to undo what it says. */
export interface Notice {
  words: string;
  undo?: () => void;
}

const LASTS = 9_000;

/** `first` is said as soon as the page is there. */
export function useNotice(first: string | null = null): { notice: Notice | null; tell: Tell } {
  const [notice, setNotice] = useState<Notice | null>(first === null ? null : { words: first });
  const tell = useCallback((words: string, undo?: () => void) => setNotice({ words, undo }), []);
  useEffect(() => {
    if (!notice) return;
    const timer = setTimeout(() => setNotice(null), LASTS);
    return () => clearTimeout(timer);
  }, [notice]);
  return { notice, tell };
}
