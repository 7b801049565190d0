"use client";
import { useQuery } from "@tanstack/react-query";
import type { CommitView } from "@/core/api";
import { ask } from "../ask";
import type { Points } from "./use-reading";

/** The commits of a revision, the oldest first: the order in which they are read. */
export function useCommits(address: string, revision: number): CommitView[] | undefined {
  const { data } = useQuery({
    queryKey: ["commits", address, revision],
    queryFn: ({ signal }) => ask<CommitView[]>(`${address}/commits?revision=r${revision}`, { signal }),
    select: oldestFirst,
  });
  return data;
}

function oldestFirst(commits: CommitView[]): CommitView[] {
  return [...commits].reverse();
}

/** The points that show one commit alone. */
export function pointsOfCommit({ id }: CommitView): Points {
  return { from: `before:${id}`, to: `at:${id}` };
}

/** Which of the commits the points show alone; -1 for none. */
export function commitShown(commits: readonly CommitView[] | undefined, points: Points): number {
  return commits?.findIndex(({ id }) => points.to === `at:${id}` && points.from === `before:${id}`) ?? -1;
}
