"use client";
import type { Points } from "@/core/reading/points";
import type { CommitView } from "@/core/views/api";
import { ask, type ChangePlace } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";

/** The commits of a revision, the oldest first: the order in which they are read. */
export function useCommits(place: ChangePlace, revision: number): CommitView[] | undefined {
  const { data } = useAsked({
    queryKey: ["commits", place, revision],
    queryFn: ({ signal }) =>
      ask("GET /api/repos/{repo}/changes/{number}/commits", {
        parts: place,
        query: { revision: `r${revision}` },
        signal,
      }),
    select: oldestFirst,
  });
  return data;
}

function oldestFirst(commits: CommitView[]): CommitView[] {
  return [...commits].reverse();
}

/** Places in a list of commits, both ends included. */
export interface CommitRange {
  first: number;
  last: number;
}

/** The points that show one commit alone, or several that follow each other. */
export function pointsOfCommits(first: CommitView, last = first): Points {
  return { kind: "commits", first: first.id, last: last.id };
}

/** Which of the commits the points show; null when it is not commits that they show. */
export function commitsShown(commits: readonly CommitView[] | undefined, points: Points): CommitRange | null {
  if (!commits || points.kind !== "commits") return null;
  const first = commits.findIndex(({ id }) => points.first === id);
  const last = commits.findIndex(({ id }) => points.last === id);
  return first >= 0 && last >= first ? { first, last } : null;
}

/** "Commit 2 of 5", "Commits 2 to 4 of 5". */
export function rangeWords({ first, last }: CommitRange, all: number): string {
  return first === last ? `Commit ${first + 1} of ${all}` : `Commits ${first + 1} to ${last + 1} of ${all}`;
}

/** Goes through the commits one by one, or takes the next one in with those that are shown. */
export function useCommitWalk(
  commits: readonly CommitView[] | undefined,
  points: Points,
  onPoints: (points: Points) => void,
  tell: (words: string) => void,
) {
  const shown = commitsShown(commits, points);
  const show = (first: number, last = first) => commits && onPoints(pointsOfCommits(commits[first], commits[last]));
  return {
    shown,
    /** The commit after the last one shown, or before the first one. */
    step: (by: 1 | -1) => {
      if (!commits || commits.length === 0) return;
      const next = shown ? (by > 0 ? shown.last + 1 : shown.first - 1) : by > 0 ? 0 : commits.length - 1;
      if (next >= 0 && next < commits.length) show(next);
      else
        tell(by > 0 ? "That was the last commit; A shows all of it." : "That was the first commit; A shows all of it.");
    },
    /** One commit more at the end, or one less. */
    grow: (by: 1 | -1) => {
      if (!commits || commits.length === 0) return;
      if (!shown) return show(0);
      const last = shown.last + by;
      if (last >= commits.length) tell("There is no commit after these.");
      else if (last >= shown.first) show(shown.first, last);
    },
    /** Down to a commit from the first one shown, or that commit alone. */
    upTo: (index: number) => (shown ? show(Math.min(shown.first, index), Math.max(shown.first, index)) : show(index)),
  };
}
