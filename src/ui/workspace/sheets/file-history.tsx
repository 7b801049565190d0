"use client";
import Link from "next/link";
import { useState } from "react";
import { visible } from "@/core/cautions/visible";
import { contentKey } from "@/core/diff/tree";
import { readView } from "@/core/diff/view";
import { type Points, pointNames } from "@/core/reading/points";
import type { ReadingFile } from "@/core/views/api";
import type { FileStepView } from "@/core/views/around-view";
import { ask, reasonFrom } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { When } from "../../parts/when";
import { SmallDiff } from "../margin/small-diff";
import { useChangeSet } from "../state/context";
import { fileQuery } from "../state/use-file";
import { Sheet } from "./sheet";

/** How a file came to be: every commit that touched it, the newest first, with the change set in which that was agreed. */
export function FileHistorySheet(props: { open: boolean; file: ReadingFile; points: Points; onClose: () => void }) {
  const { open, onClose, file } = props;
  return (
    <Sheet
      title={`How ${visible(file.path)} came to be`}
      about="The newest first, through its names. Each opens as what it changed in this file."
      {...{ open, onClose }}
      wide
    >
      {open && <Steps {...props} />}
    </Sheet>
  );
}

function Steps({ file, points }: { file: ReadingFile; points: Points }) {
  const { place } = useChangeSet();
  // Of one that is gone the history ends with the state in which it was.
  const side = file.newId === null ? ("old" as const) : ("new" as const);
  const path = side === "old" ? (file.oldPath ?? file.path) : file.path;
  const query = { ...pointNames(points), side, path };
  const { data, error } = useAsked({
    queryKey: ["file history", place, query],
    queryFn: ({ signal }) =>
      ask("GET /api/repos/{repo}/changes/{number}/file-history", { parts: place, query, signal }),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const [opened, setOpened] = useState("");
  if (error)
    return (
      <p role="alert" className="px-6 py-4 text-clay">
        {reasonFrom(error)}
      </p>
    );
  if (!data) return <p className="px-6 py-4 text-soft">Looking back …</p>;
  return (
    <ol className="min-h-0 flex-1 divide-y divide-rule overflow-y-auto px-6">
      {data.steps.map((step) => {
        const isOpen = opened === step.commit.id;
        return (
          <li key={step.commit.id} className="py-2">
            <Step step={step} open={isOpen} onOpen={() => setOpened(isOpen ? "" : step.commit.id)} />
          </li>
        );
      })}
      {data.steps.length === 0 && <li className="py-4 text-soft">No commit is known for it.</li>}
      {data.more && <li className="py-4 text-soft">There is more before that.</li>}
    </ol>
  );
}

function Step({ step, open, onOpen }: { step: FileStepView; open: boolean; onOpen: () => void }) {
  const { view } = useChangeSet();
  const { commit, oldPath, newId, oldId, change } = step;
  const what = newId === null ? "removed it" : oldPath ? `renamed it from ${visible(oldPath)}` : oldId ? "" : "made it";
  return (
    <>
      <button type="button" className="text-left font-serif hover:underline" aria-expanded={open} onClick={onOpen}>
        <span aria-hidden className="inline-block w-4 text-soft">
          {open ? "▾" : "▸"}
        </span>
        {commit.subject}
      </button>
      <p className="pl-4 text-[12.5px] text-soft">
        <code className="font-mono text-[11.5px]">{commit.id.slice(0, 8)}</code> · {commit.author},{" "}
        <When at={commit.at} />
        {what && ` · ${what}`}
        {change && (
          <>
            {" "}
            · agreed in{" "}
            <Link className="underline" href={`/r/${view.repository}/c/${change.number}`}>
              change set {change.number}, {change.title}
            </Link>
          </>
        )}
      </p>
      {open && <Opened step={step} />}
    </>
  );
}

/** How much around each difference is shown, and of how many lines at the most. */
const AROUND = 3;
const MOST = 400;

function Opened({ step }: { step: FileStepView }) {
  const { view: change } = useChangeSet();
  const { data, error } = useAsked(
    fileQuery(change.repository, contentKey(step.oldId, step.oldMode), contentKey(step.newId, step.newMode)),
  );
  if (error) return <p className="pl-4 text-clay">{reasonFrom(error)}</p>;
  if (!data) return <p className="pl-4 text-soft">Comparing …</p>;
  if (data.untold !== null) return <p className="pl-4 text-soft">{data.untold}</p>;
  const { hunks, newLines } = data.comparison;
  if (hunks.length === 0) return <p className="pl-4 text-soft">Its lines are the same.</p>;
  const text = readView(data);
  let left = MOST;
  const shown = hunks.flatMap((hunk) => {
    left -= hunk.oldEnd - hunk.oldStart + hunk.newEnd - hunk.newStart + 2 * AROUND;
    if (left < 0) return [];
    const before = Math.min(AROUND, hunk.newStart);
    const after = Math.min(AROUND, newLines - hunk.newEnd);
    const old = Array.from({ length: hunk.oldEnd - hunk.oldStart + before + after }, (_, i) =>
      text.old(hunk.oldStart - before + i),
    );
    return [{ hunk, old, next: text.next.slice(hunk.newStart - before, hunk.newEnd + after) }];
  });
  return (
    <div className="pl-4">
      {shown.map(({ hunk, old, next }) => (
        <div key={hunk.oldStart}>
          <p className="pt-1 text-[12.5px] text-soft">from line {hunk.newStart + 1}</p>
          <SmallDiff was={old} lines={next} />
        </div>
      ))}
      {shown.length < hunks.length && <p className="text-[13px] text-soft">There is more than is shown here.</p>}
    </div>
  );
}
