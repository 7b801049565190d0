"use client";
import { queryOptions } from "@tanstack/react-query";
import { useMemo } from "react";
import { type MarkedPart, markedOutline } from "@/core/definitions/marked-outline";
import type { Outlined } from "@/core/definitions/outline";
import { SUBMODULE } from "@/core/diff/tree";
import type { Points } from "@/core/reading/points";
import type { ReadingFile } from "@/core/views/api";
import type { OutlinedView } from "@/core/views/around-view";
import { whenItStays } from "../../asking/after-picture";
import { ask } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { useChangeSet } from "./context";
import { useFile } from "./use-file";

function outlineQuery(repository: string, id: string | null, path: string) {
  return queryOptions({
    queryKey: ["definitions", repository, id, path],
    queryFn: async ({ signal }) => {
      await whenItStays();
      const query = { id: id ?? "", path };
      return ask("GET /api/repos/{repo}/definitions", { parts: { repo: repository }, query, signal });
    },
    enabled: id !== null && id !== "",
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 120_000,
    structuralSharing: false,
    select: fromOne,
    retry: false,
  });
}

/** Lines are counted from 0 on this side. */
function fromOne(view: OutlinedView): Outlined[] {
  return view.map((part) => ({ ...part, line: part.line - 1, start: part.start - 1 }));
}

/** The parts of one state of a file, in order; none until they are known. */
export function useOutline(repository: string, id: string | null, path: string): Outlined[] {
  return useAsked(outlineQuery(repository, id, path)).data ?? NONE;
}

const NONE: Outlined[] = [];

/** The parts of a file in both states, with what the change made of each; null until they are known. */
export function useMarkedOutline(points: Points, file: ReadingFile): MarkedPart[] | null {
  const { view: change, place } = useChangeSet();
  const { view, classes } = useFile(change.repository, place, points, file, false);
  const oldId = file.oldMode === SUBMODULE || file.copy ? null : file.oldId;
  const newId = file.newMode === SUBMODULE ? null : file.newId;
  const old = useAsked(outlineQuery(change.repository, oldId, file.oldPath ?? file.path));
  const next = useAsked(outlineQuery(change.repository, newId, file.path));
  const isReady = view && (old.data || old.error || !oldId) && (next.data || next.error || !newId);
  return useMemo(() => {
    if (!isReady) return null;
    const moved = classes.runs.filter((run) => run.class === "moved");
    return markedOutline(old.data ?? NONE, next.data ?? NONE, view.comparison.hunks, moved);
  }, [isReady, view, classes, old.data, next.data]);
}
