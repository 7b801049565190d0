"use client";
import { useMemo } from "react";
import { counted, listed } from "@/core/plain/words";
import { besidesReading, linesToRead, needsReading } from "@/core/reading/files";
import type { Points } from "@/core/reading/points";
import type { RevisionKind } from "@/core/review/shapes";
import type { Revision } from "@/core/review/state";
import type { CommitView, ReadingFile } from "@/core/views/api";
import { useBehindPicture } from "../../asking/use-behind-picture";
import { When } from "../../parts/when";
import { commitsShown, rangeWords } from "../navigation/use-commits";
import { byName, useChangeSet } from "../state/context";

/** How a revision came of the one before, in words. */
export const HOW: Record<RevisionKind, string> = {
  forward: "new commits",
  rebased: "rebased and changed,",
  rewritten: "rewritten,",
  back: "the branch went back,",
  suggestions: "suggestions taken",
  retargeted: "offered to another branch,",
};

/** What is told of a reading beside its files. */
export interface ReadingFacts {
  files: ReadingFile[] | undefined;
  conflicts: readonly string[];
  leftOut: number | null;
  merged: number;
}

/** What the points mean, in words: what is read, how much that is, and what is left out of it. */
export function Said({
  points,
  commits,
  reading,
}: {
  points: Points;
  commits: CommitView[] | undefined;
  reading: ReadingFacts;
}) {
  const { view } = useChangeSet();
  const { files, conflicts, leftOut, merged } = reading;
  const latest = useBehindPicture(files, points);
  const size = useMemo(() => (latest ? sizeOf(latest) : "comparing …"), [latest]);
  const shown = commitsShown(commits, points);
  if (commits && shown) return <SaidOfCommits {...{ commits, shown, size }} />;
  if (points.kind === "commits") return <strong className="font-semibold">Some commits: {size}.</strong>;
  const revision = view.revisions[points.to - 1];
  const last = view.reviews.findLast(({ by }) => by === view.me.id);
  const from = points.kind === "revision" ? points.from : null;
  // Only what did come is said to be left out.
  const came =
    revision &&
    view.revisions
      .slice(typeof from === "number" ? from - 1 : 0, revision.number)
      .some(({ base }) => base !== revision.base);
  return (
    <>
      <strong className="font-semibold">
        {titleOf(points)}: {size}.
      </strong>{" "}
      <span className="text-soft">
        {revision && <SaidOfRevision revision={revision} />}
        {from === "read" && leftOutWords(leftOut, came ? view.target : null)}
        {typeof from === "number" && came && `What came from ${view.target} between them is left out. `}
        {conflicts.length > 0 &&
          `In ${counted(conflicts.length, "file")} both touch the same lines: compared with what the target has there.`}
        {merged > 0 && `Left out in ${counted(merged, "file")}: what ${view.target} already has, made alike there. `}
        {from === "base" && last && `You reviewed r${last.revision}.`}
      </span>
    </>
  );
}

function titleOf(points: Exclude<Points, { kind: "commits" }>): string {
  if (points.kind === "yardstick") return `r${points.to} against ${points.name}`;
  if (points.from === "base") return `All of r${points.to}`;
  return points.from === "read" ? `New to you in r${points.to}` : `r${points.from} to r${points.to}`;
}

function SaidOfRevision({ revision }: { revision: Revision }) {
  const { view } = useChangeSet();
  const { number, by, pusher, at, how } = revision;
  return (
    <>
      r{number} {cameOf(revision)} by {byName(view, by)}
      {pusher !== by && how !== "retargeted" && `, pushed by ${byName(view, pusher)}`}, <When at={at} />.{" "}
    </>
  );
}

function cameOf({ how, same, resultSame }: Revision): string {
  if (how === "retargeted") return `is ${HOW.retargeted}`;
  if (same) return "is a rebase alone,";
  if (resultSame) return "has other commits that lead to the same (C reads them one by one),";
  return how ? `is ${HOW[how]}` : "is";
}

function SaidOfCommits({
  commits,
  shown,
  size,
}: {
  commits: CommitView[];
  shown: NonNullable<ReturnType<typeof commitsShown>>;
  size: string;
}) {
  const { subject, author, at } = commits[shown.last];
  return (
    <>
      <strong className="font-semibold">
        {rangeWords(shown, commits.length)}: {size}.
      </strong>{" "}
      {shown.first === shown.last ? (
        <>
          <span className="font-serif">{subject}</span>{" "}
          <span className="text-soft">
            · {author}, <When at={at} />
          </span>
        </>
      ) : (
        <span className="text-soft">
          From “{commits[shown.first].subject}” to “{subject}”.
        </span>
      )}
    </>
  );
}

function leftOutWords(leftOut: number | null, target: string | null): string {
  const out = [
    leftOut ? `${counted(leftOut, "file")} as you have seen ${leftOut === 1 ? "it" : "them"}` : "",
    target === null ? "" : `what came from ${target}`,
  ].filter((words) => words !== "");
  return out.length > 0 ? `Left out: ${listed(out)}. ` : "";
}

/** What there is to read, once that is known; before that how many files there are. */
function sizeOf(files: ReadingFile[]): string {
  if (files.some(({ toRead }) => toRead === null)) return counted(files.length, "file");
  if (files.length === 0) return "nothing differs";
  const besides = besidesReading(files);
  if (linesToRead(files) === 0) return `nothing to read${besides}`;
  return `${counted(linesToRead(files), "line")} to read in ${counted(files.filter(needsReading).length, "file")}${besides}`;
}
