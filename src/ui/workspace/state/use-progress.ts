"use client";
import type { Progress } from "@/core/views/api";
import { ask } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { useChangeSet } from "./context";

/** How far each person has come with the newest revision, by their ids; undefined while it is on its way. */
export function useProgress(): Record<string, Progress> | undefined {
  const { view, place } = useChangeSet();
  const { data } = useAsked({
    queryKey: ["progress", place, view.revisions.length, view.reviews.length],
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/changes/{number}/progress", { parts: place, signal }),
  });
  return data;
}
