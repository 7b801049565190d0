"use client";
import { useEffect, useRef } from "react";
import type { Unsent } from "@/core/views/api";
import { useKeptOrSpared } from "../../kept/use-kept-or-spared";
import { useChangeSet } from "../state/context";

/** The parts of an unsent note that are written in one place: kept as they change, and dropped with the whole of what was typed. */
export function useKeptNote<N extends Unsent, V extends Partial<N>>(note: N, parts: V) {
  const { saveNote, dropNote, writing } = useChangeSet();
  const edition = { place: `note ${note.id}`, over: note.changedAt };
  const kept = useKeptOrSpared(edition, parts, (value, leaving) => saveNote({ ...note, ...value }, leaving));
  const latest = useRef(kept);
  latest.current = kept;
  const { flush, pending } = kept;
  useEffect(() => {
    const take = (more: object) => latest.current.change({ ...latest.current.value, ...more });
    return writing(note.id, { keep: flush, pending, take, cancel: () => latest.current.cancel() });
  }, [writing, note.id, flush, pending]);
  return {
    ...kept,
    change: (part: Partial<V>) => kept.change({ ...kept.value, ...part }),
    drop: () => {
      kept.forget();
      dropNote({ ...note, ...kept.value });
    },
  };
}
