"use client";
import { queryOptions } from "@tanstack/react-query";
import { useMemo } from "react";
import { ENGINE } from "@/core/diff/compare";
import { type ContentKey, contentKey, SUBMODULE } from "@/core/diff/tree";
import { readView } from "@/core/diff/view";
import { type Points, pointNames } from "@/core/reading/points";
import type { ColoursView, FileClasses, ReadingFile } from "@/core/views/api";
import { afterPicture } from "../../asking/after-picture";
import { ask, type ChangePlace } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";

const NO_CLASSES: FileClasses = {
  runs: [],
  moves: {},
  replacements: {},
  echoes: {},
  echoed: { places: [], many: 0 },
  alike: [],
};

const NO_COLOURS: ColoursView = { old: [], new: [] };

/** How to ask for the contents of two sides compared. What depends on contents alone is kept as long as the page. */
export function fileQuery(repository: string, oldKey: ContentKey | null, newKey: ContentKey | null) {
  const query = {
    ...(oldKey ? { old: oldKey } : {}),
    ...(newKey ? { new: newKey } : {}),
    engine: String(ENGINE),
  };
  return queryOptions({
    queryKey: ["file", repository, oldKey, newKey],
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/files", { parts: { repo: repository }, query, signal }),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 120_000,
    // The same blobs always compare the same: nothing in it is worth looking for.
    structuralSharing: false,
  });
}

/** How to ask for the colours of both sides: together, since what they change is drawn anew once, and not for each. A side that has none is bare. */
function coloursQuery(repository: string, sides: Record<"old" | "next", string | null>, path: string) {
  const { old, next } = sides;
  return queryOptions({
    queryKey: ["colours", repository, old, next, path],
    enabled: old !== null || next !== null,
    queryFn: async ({ signal }): Promise<ColoursView> => {
      await afterPicture();
      const query = { ...(old && { old }), ...(next && { new: next }), path };
      return ask("GET /api/repos/{repo}/colours", { parts: { repo: repository }, query, signal });
    },
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 120_000,
    structuralSharing: false,
    retry: false,
  });
}

/** One file to be read, `asText` whatever it holds: its text and differences, and when they have come its colours and which of its lines are quiet. */
export function useFile(repository: string, place: ChangePlace, points: Points, file: ReadingFile, asText: boolean) {
  const view = useAsked(
    fileQuery(repository, contentKey(file.oldId, file.oldMode, asText), contentKey(file.newId, file.newMode, asText)),
  );
  const shown = view.data?.untold === null ? view.data : undefined;
  const oldNeeded = shown !== undefined && shown.comparison.removed > 0 && file.oldMode !== SUBMODULE;
  const nextNeeded = shown !== undefined && file.newMode !== SUBMODULE;
  const sides = { old: oldNeeded ? file.oldId : null, next: nextNeeded ? file.newId : null };
  const colours = useAsked(coloursQuery(repository, sides, file.path));
  const query = { ...pointNames(points), path: file.path };
  const classes = useAsked({
    queryKey: ["classes", place, query.from, query.to, file.path],
    enabled: Object.keys(file.quiet).length > 0 || (file.echoed ?? file.alike ?? 0) > 0,
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/changes/{number}/classes", { parts: place, query, signal }),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const text = useMemo(() => view.data && readView(view.data), [view.data]);
  return {
    view: view.data,
    text,
    error: view.error,
    classes: classes.data ?? NO_CLASSES,
    colours: colours.data ?? NO_COLOURS,
  };
}
