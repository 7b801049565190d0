"use client";
import { useState } from "react";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { counted, inFigures } from "@/core/plain/words";
import type { Points } from "@/core/reading/points";
import type { Revision } from "@/core/review/state";
import type { RevisionSize } from "@/core/views/api";
import { ask } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { When } from "../../parts/when";
import { HOW } from "../ladder/said";
import { byName, useChangeSet } from "../state/context";
import { Sheet, SheetFoot } from "./sheet";

/** Every revision with what it brought and what was said of it; any two are chosen here, by mouse or by arrow keys. */
export function RevisionsSheet({
  open,
  points,
  onChoose,
  onClose,
}: {
  open: boolean;
  points: Points;
  onChoose: (points: Points) => void;
  onClose: () => void;
}) {
  return (
    <Sheet
      title="Revisions"
      about="Choose from where to where you want to read. Up and down go through a column, Tab goes to the other one, Enter reads."
      open={open}
      onClose={onClose}
      wide
    >
      <Choice {...{ points, onChoose, onClose }} />
    </Sheet>
  );
}

function Choice({
  points,
  onChoose,
  onClose,
}: {
  points: Points;
  onChoose: (points: Points) => void;
  onClose: () => void;
}) {
  const { view, place } = useChangeSet();
  const last = view.revisions.length;
  const ends = points.kind === "revision" ? points : null;
  const [from, setFrom] = useState(typeof ends?.from === "number" ? ends.from : 0);
  const [to, setTo] = useState(ends?.to ?? last);
  const { data: sizes } = useAsked({
    queryKey: ["sizes", place, last],
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/changes/{number}/sizes", { parts: place, signal }),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const problem = from >= to ? "The first of the two has to come before the second." : "";
  const read = () => {
    if (problem) return;
    onChoose({ kind: "revision", from: from === 0 ? "base" : from, to });
    onClose();
  };
  const point = "h-4 w-4 accent-(--brass)";
  return (
    <form
      className="flex min-h-0 flex-1 flex-col"
      onSubmit={(event) => {
        event.preventDefault();
        read();
      }}
      onKeyDown={(event) => {
        if (event.key !== "Enter" || event.target instanceof HTMLButtonElement) return;
        event.preventDefault();
        read();
      }}
    >
      <div className="min-h-0 flex-1 overflow-y-auto px-6 py-3">
        <table className="w-full text-left">
          <thead className="text-[12.5px] text-soft">
            <tr>
              <th className="w-12 pb-1 font-normal">from</th>
              <th className="w-12 pb-1 font-normal">to</th>
              <th className="pb-1 font-normal">revision</th>
              <th className="pb-1 text-right font-normal">changed by it</th>
            </tr>
          </thead>
          <tbody>
            <tr className="border-t border-rule">
              <td className="py-1.5">
                <input
                  type="radio"
                  name="from"
                  aria-label="From the base"
                  className={point}
                  checked={from === 0}
                  onChange={() => setFrom(0)}
                />
              </td>
              <td />
              <td className="text-soft">where {view.source} left the target</td>
              <td />
            </tr>
            {view.revisions.map((revision, i) => (
              <tr
                key={revision.number}
                className={`border-t border-rule align-top ${revision.number > from && revision.number <= to ? "bg-brass-wash" : ""}`}
              >
                <td className="py-1.5">
                  <input
                    type="radio"
                    name="from"
                    aria-label={`From r${revision.number}`}
                    className={point}
                    checked={from === revision.number}
                    onChange={() => setFrom(revision.number)}
                  />
                </td>
                <td className="py-1.5">
                  <input
                    type="radio"
                    name="to"
                    aria-label={`To r${revision.number}`}
                    className={point}
                    checked={to === revision.number}
                    onChange={() => setTo(revision.number)}
                  />
                </td>
                <td className="py-1.5 pr-4">
                  <p>
                    <strong className="font-semibold">r{revision.number}</strong> {kindWords(revision)} by{" "}
                    {byName(view, revision.by)}, <When at={revision.at} />
                  </p>
                  {reviewWords(view, revision).map((words) => (
                    <p key={words} className="text-[13px] text-soft">
                      {words}
                    </p>
                  ))}
                </td>
                <td className="py-1.5 text-right text-[13px] text-soft">
                  {sizes ? sizeWords(sizes[i], revision) : "…"}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <SheetFoot
        problem={problem}
        busy={problem !== ""}
        action={`Read from ${from === 0 ? "the base" : `r${from}`} to r${to}`}
        doing="Choose two"
        onAction={read}
        onClose={onClose}
      />
    </form>
  );
}

function kindWords({ how, same, number }: Revision): string {
  if (same) return "a rebase alone";
  if (how) return HOW[how].replace(/,$/, "");
  return number === 1 ? "as it was offered" : "";
}

function sizeWords(size: RevisionSize | undefined, { same }: Revision): string {
  if (!size) return "…";
  if (same || size.files === 0) return "nothing of the author’s";
  return `+${inFigures(size.added)} −${inFigures(size.removed)} in ${counted(size.files, "file")}, ${inFigures(size.toRead)} to read`;
}

const VERDICTS = { approve: "✓ approved by", "request-changes": "○ changes requested by", none: "remarks by" };

function reviewWords(view: ChangeView, { number }: Revision): string[] {
  return view.reviews
    .filter(({ revision }) => revision === number)
    .map(({ by, verdict, threads }) => {
      const remarks = threads.length > 0 ? `, ${counted(threads.length, "remark")}` : "";
      return `${VERDICTS[verdict]} ${byName(view, by)}${remarks}`;
    })
    .filter((words, i, all) => all.indexOf(words) === i);
}
