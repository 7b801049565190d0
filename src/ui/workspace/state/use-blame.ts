"use client";
import { useMemo } from "react";
import { type Points, pointNames } from "@/core/reading/points";
import type { CommitView, ReadingFile } from "@/core/views/api";
import { ask } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { useChangeSet } from "./context";

/** By which commits the lines of a file came, by their 0-based numbers; null while it is not wanted or not known. */
export function useBlame(points: Points, file: ReadingFile, wanted: boolean): ReadonlyMap<number, CommitView> | null {
  const { place } = useChangeSet();
  const query = { ...pointNames(points), side: "new" as const, path: file.path };
  const { data } = useAsked({
    queryKey: ["blame", place, query],
    enabled: wanted && file.newId !== null,
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/changes/{number}/blame", { parts: place, query, signal }),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  return useMemo(() => {
    if (!wanted || !data) return null;
    const lines = new Map<number, CommitView>();
    for (const { start, end, commit } of data.runs)
      for (let line = start; line <= end; line++) lines.set(line - 1, data.commits[commit]);
    return lines;
  }, [wanted, data]);
}
