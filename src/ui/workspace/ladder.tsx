"use client";
import type { CommitView, ReadingFile } from "@/core/api";
import { linesToRead, needsReading } from "@/core/reading/files";
import type { RevisionKind } from "@/core/review/shapes";
import { counted } from "@/core/words";
import { Key } from "../key";
import { When } from "../when";
import { byName, useWorkspace } from "./context";
import { commitsShown, rangeWords } from "./use-commits";
import type { Points } from "./use-reading";

/** The revisions from the base on, and which two of them are compared. It says in words what that is. */
export function Ladder({
  points,
  files,
  onChoose,
  onToggle,
  onRevisions,
  commits,
  conflicts,
  leftOut,
  merged,
}: {
  points: Points;
  onRevisions: () => void;
  conflicts: readonly string[];
  leftOut: number | null;
  merged: number;
  files: ReadingFile[] | undefined;
  onChoose: (points: Points) => void;
  onToggle: (() => void) | null;
  commits: CommitView[] | undefined;
}) {
  const { view, command, tell } = useWorkspace();
  const stops = ["base", ...view.revisions.map(({ number }) => `r${number}`)];
  const from = stops.indexOf(points.from);
  const to = stops.indexOf(points.to);
  const size = files ? sizeOf(files) : "comparing …";
  const record = async () => {
    const refusal = await command({ kind: "revise" });
    if (refusal) tell(refusal);
  };
  return (
    <div className="flex h-[52px] flex-none items-center gap-6 border-b border-rule bg-page px-4">
      <ol className="flex flex-none items-start" aria-label="Revisions">
        {stops.map((stop, i) => {
          const within = i >= from && i <= to;
          const end = i === from || i === to;
          return (
            <li key={stop} className="relative w-14">
              {i > 0 && (
                <span
                  aria-hidden
                  className={`absolute top-[9px] right-1/2 h-[3px] w-full ${within && i > from ? "bg-brass" : "bg-rule"}`}
                />
              )}
              <button
                type="button"
                aria-pressed={end}
                disabled={i === 0}
                title={
                  i === 0
                    ? "Where the source branch left the target"
                    : `${stop}: read from the base up to here. With Shift: from here on.`
                }
                onClick={(event) => {
                  if (event.shiftKey && i < to) onChoose({ from: stop, to: points.to });
                  else if (i > 0) onChoose({ from: "base", to: stop });
                }}
                className="relative flex w-full flex-col items-center gap-0.5 text-[12px] leading-4 text-soft"
              >
                <span
                  className={`mt-[4px] h-3 w-3 rounded-full border-2 ${end ? "border-brass bg-brass" : "border-faint bg-page"}`}
                />
                <span>
                  {stop}
                  {i > 0 && <Verdicts revision={i} />}
                </span>
              </button>
            </li>
          );
        })}
      </ol>
      <p className="min-w-0 flex-1 truncate">
        <Said {...{ points, size, commits, conflicts, leftOut, merged }} />
      </p>
      <button type="button" className="quiet-button flex-none" onClick={onRevisions}>
        revisions <Key>J</Key>
      </button>
      {view.ahead && view.me.revise.may && (
        <button type="button" className="button flex-none" onClick={record}>
          {view.ahead.commits > 0
            ? `${counted(view.ahead.commits, "new commit")} on ${view.source}`
            : `${view.source} was rewritten`}
          : record r{view.revisions.length + 1}
        </button>
      )}
      {onToggle && (
        <button type="button" className="quiet-button flex-none" onClick={onToggle}>
          {points.from === "base" ? "only what is new to me" : "all of it"} <Key>A</Key>
        </button>
      )}
    </div>
  );
}

/** Signs of what was said of a revision. */
function Verdicts({ revision }: { revision: number }) {
  const { view } = useWorkspace();
  const here = view.reviews.filter((review) => review.revision === revision);
  const approved = here.some(({ verdict }) => verdict === "approve");
  const asked = here.some(({ verdict }) => verdict === "request-changes");
  return (
    <>
      {approved && (
        <span className="text-teal" title="approved here">
          {" "}
          ✓<span className="sr-only">approved</span>
        </span>
      )}
      {asked && (
        <span className="text-clay" title="changes requested here">
          {" "}
          ○<span className="sr-only">changes requested</span>
        </span>
      )}
    </>
  );
}

/** How a revision came of the one before, in words. */
export const HOW: Record<RevisionKind, string> = {
  forward: "new commits",
  rebased: "rebased and changed,",
  rewritten: "rewritten,",
  back: "the branch went back,",
  suggestions: "suggestions taken",
  retargeted: "offered to another branch,",
};

function leftOutWords(leftOut: number | null): string {
  return leftOut ? `${counted(leftOut, "file")} as you have seen ${leftOut === 1 ? "it" : "them"}, and ` : "";
}

/** What there is to read, once that is known; before that how many files there are. */
function sizeOf(files: ReadingFile[]): string {
  if (files.some(({ toRead }) => toRead === null)) return counted(files.length, "file");
  return `${counted(linesToRead(files), "line")} to read in ${counted(files.filter(needsReading).length, "file")}`;
}

function Said({
  points,
  size,
  commits,
  conflicts,
  leftOut,
  merged,
}: {
  points: Points;
  size: string;
  commits: CommitView[] | undefined;
  conflicts: readonly string[];
  leftOut: number | null;
  merged: number;
}) {
  const { view } = useWorkspace();
  const shown = commitsShown(commits, points);
  if (commits && shown) {
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
  const revision = view.revisions.find(({ number }) => `r${number}` === points.to);
  const mine = view.reviews.filter(({ by }) => by === view.me.id);
  const last = mine[mine.length - 1];
  return (
    <>
      <strong className="font-semibold">
        {points.from === "base"
          ? `All of ${points.to}`
          : points.from === "read"
            ? `New to you in ${points.to}`
            : points.from.startsWith("live:")
              ? `${points.to} against ${points.from.slice(5)}`
              : `${points.from} to ${points.to}`}
        : {size}.
      </strong>{" "}
      <span className="text-soft">
        {revision && (
          <>
            {points.to}
            {revision.how === "retargeted"
              ? ` is ${HOW.retargeted}`
              : revision.same
                ? " is a rebase alone,"
                : revision.resultSame
                  ? " has other commits that lead to the same (C reads them one by one),"
                  : revision.how
                    ? ` is ${HOW[revision.how]}`
                    : " is"}{" "}
            by {byName(view, revision.by)}
            {revision.pusher !== revision.by &&
              revision.how !== "retargeted" &&
              `, pushed by ${byName(view, revision.pusher)}`}
            , <When at={revision.at} />.{" "}
          </>
        )}
        {points.from === "read" && `Left out: ${leftOutWords(leftOut)}what came from ${view.target}. `}
        {points.from !== "base" &&
          points.from !== "read" &&
          !points.from.startsWith("live:") &&
          `What came from ${view.target} between them is left out. `}
        {conflicts.length > 0 &&
          `In ${counted(conflicts.length, "file")} both touch the same lines: compared with what the target has there.`}
        {merged > 0 && `Left out in ${counted(merged, "file")}: what ${view.target} already has, made alike there. `}
        {points.from === "base" && last && `You reviewed r${last.revision}.`}
      </span>
    </>
  );
}
