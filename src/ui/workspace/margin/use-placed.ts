"use client";
import { useCallback, useRef, useState } from "react";
import type { Placed } from "./use-entries";

/** Where remarks stand, as long as each stands where it stood: the lines of the file are laid anew with every other list. */
export function usePlaced(): [readonly Placed[], (placed: readonly Placed[]) => void] {
  const [placed, setPlaced] = useState<readonly Placed[]>([]);
  const last = useRef(placed);
  const tell = useCallback((next: readonly Placed[]) => {
    const before = last.current;
    if (next.length === before.length && next.every((one, n) => isSame(one, before[n]))) return;
    last.current = next;
    setPlaced(next);
  }, []);
  return [placed, tell];
}

function isSame(one: Placed, other: Placed): boolean {
  const lines = ({ place }: Placed) => (place.status === "gone" ? "" : `${place.start} ${place.end}`);
  return (
    one.id === other.id &&
    one.side === other.side &&
    one.place.status === other.place.status &&
    lines(one) === lines(other)
  );
}
