"use client";
import { useEffect } from "react";
import type { Unsent } from "@/core/views/api";
import { useSpare } from "../../kept/use-draft";
import { useKept } from "../../kept/use-kept";
import { useChangeSet } from "../state/context";

/** In how many places each note is written just now. */
const writtenIn = new Map<string, number>();

/**
 * The parts of an unsent note that are written in one place: kept as they change, and dropped with the whole of what was typed. What the server did
 * not keep is kept in this browser, and goes on from there when the page is loaded again, unless the note was changed elsewhere since.
 */
export function useKeptNote<N extends Unsent, V extends Partial<N>>(note: N, parts: V) {
  const { saveNote, dropNote, writing } = useChangeSet();
  const spare = useSpare<{ over: number; parts: V }>(`note ${note.id}`);
  const kept = useKept(parts, async (value, leaving) => {
    const unkept = { over: note.changedAt, parts: value };
    // Whether it comes through nobody hears any more.
    if (leaving) spare.keep(unkept);
    const refusal = await saveNote({ ...note, ...value }, leaving);
    if (refusal) spare.keep(unkept);
    else spare.forget();
    return refusal;
  });
  const { flush, cancel } = kept;
  // biome-ignore lint/correctness/useExhaustiveDependencies: letting go is the same each time
  useEffect(() => writing(note.id, { keep: flush, cancel }), [writing, note.id, flush]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when it is first written somewhere
  useEffect(() => {
    const others = writtenIn.get(note.id) ?? 0;
    writtenIn.set(note.id, others + 1);
    const found = others === 0 ? spare.value() : null;
    if (found?.over === note.changedAt) kept.change({ ...parts, ...found.parts });
    else if (found) spare.forget();
    return () => {
      const left = (writtenIn.get(note.id) ?? 1) - 1;
      if (left > 0) writtenIn.set(note.id, left);
      else writtenIn.delete(note.id);
    };
  }, [note.id]);
  return {
    ...kept,
    change: (part: Partial<V>) => kept.change({ ...kept.value, ...part }),
    drop: () => {
      cancel();
      spare.forget();
      dropNote({ ...note, ...kept.value });
    },
  };
}
