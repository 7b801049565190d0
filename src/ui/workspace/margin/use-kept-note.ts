"use client";
import { useEffect } from "react";
import type { Unsent } from "@/core/views/api";
import { useKept } from "../../kept/use-kept";
import { useChangeSet } from "../state/context";

/** The parts of an unsent note that are written in one place: kept as they change, and dropped with the whole of what was typed. */
export function useKeptNote<N extends Unsent, V extends Partial<N>>(note: N, parts: V) {
  const { saveNote, dropNote, beforeSending } = useChangeSet();
  const kept = useKept(parts, (value, leaving) => saveNote({ ...note, ...value }, leaving));
  const { flush } = kept;
  useEffect(() => beforeSending(note.id, flush), [beforeSending, note.id, flush]);
  return {
    ...kept,
    change: (part: Partial<V>) => kept.change({ ...kept.value, ...part }),
    drop: () => {
      kept.cancel();
      dropNote({ ...note, ...kept.value });
    },
  };
}
