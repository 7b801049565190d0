"use client";
import { counted } from "@/core/plain/words";
import type { Points } from "@/core/reading/points";
import type { CommitView } from "@/core/views/api";
import { Key } from "../../parts/key";
import { useChangeSet, useTell } from "../state/context";
import { type ReadingFacts, Said } from "./said";

/** The revisions from the base on, and which two of them are compared. It says in words what that is. */
export function Ladder({
  points,
  reading,
  commits,
  onChoose,
  onToggle,
  onRevisions,
}: {
  points: Points;
  reading: ReadingFacts;
  commits: CommitView[] | undefined;
  onChoose: (points: Points) => void;
  onToggle: (() => void) | null;
  onRevisions: () => void;
}) {
  const { view } = useChangeSet();
  const stops = ["base", ...view.revisions.map(({ number }) => `r${number}`)];
  const from = points.kind !== "revision" || points.from === "read" ? -1 : points.from === "base" ? 0 : points.from;
  const to = points.kind === "commits" ? -1 : points.to;
  return (
    <section
      aria-label="What is read"
      className="flex h-[52px] flex-none items-center gap-6 border-b border-rule bg-page px-4 max-[700px]:h-auto max-[700px]:flex-wrap max-[700px]:gap-x-4 max-[700px]:gap-y-1 max-[700px]:py-1.5"
    >
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
                  if (event.shiftKey && i < to) onChoose({ kind: "revision", from: i, to });
                  else if (i > 0) onChoose({ kind: "revision", from: "base", to: i });
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
      <p className="min-w-0 flex-1 truncate max-[700px]:order-last max-[700px]:w-full max-[700px]:flex-none max-[700px]:whitespace-normal">
        <Said {...{ points, commits, reading }} />
      </p>
      <ReadingButtons {...{ points, onToggle, onRevisions }} />
    </section>
  );
}

/** What can be chosen of what is read: other revisions, the next one where the branch has moved on, only what is new. */
export function ReadingButtons({
  points,
  onToggle,
  onRevisions,
}: {
  points: Points;
  onToggle: (() => void) | null;
  onRevisions: () => void;
}) {
  const { view, command } = useChangeSet();
  const tell = useTell();
  const record = async () => {
    const refusal = await command({ kind: "revise" });
    if (refusal) tell(refusal);
  };
  const isAll = points.kind === "revision" && points.from === "base";
  return (
    <>
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
          {isAll ? "only what is new to me" : "all of it"} <Key>A</Key>
        </button>
      )}
    </>
  );
}

/** Signs of what was said of a revision. */
function Verdicts({ revision }: { revision: number }) {
  const { view } = useChangeSet();
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
