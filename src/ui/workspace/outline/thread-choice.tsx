"use client";
import { anchorName, anchorPlace, pathOf, startOf } from "@/core/anchor/anchor";
import { visible, visibleWords } from "@/core/cautions/visible";
import { positionOf } from "@/core/review/answered";
import { lastWord, type Thread } from "@/core/review/state";
import { useAttention, useChangeSet } from "../state/context";
import { placeIn } from "../state/places";
import { Choice } from "./choice";

/** A thread of the outline: who began it, where its lines are now, and the last word in it. */
export function ThreadChoice({
  thread,
  name,
  chosen,
  onClick,
}: {
  thread: Thread;
  name: string;
  chosen: boolean;
  onClick: () => void;
}) {
  const last = lastWord(thread.comments);
  const { view } = useChangeSet();
  const { shown } = useAttention();
  const anchor = placeIn(thread, view.histories, shown);
  const position = shown === null ? null : positionOf(thread, view.histories, shown);
  const path = pathOf(anchor);
  const file = path === null ? anchorPlace(anchor) : visible(path.slice(path.lastIndexOf("/") + 1));
  return (
    <Choice chosen={chosen} onClick={onClick} title={anchorName(anchor)}>
      <span className="min-w-0 flex-1">
        <span className="block truncate text-soft">
          {name} · {file} {position?.status === "gone" ? "gone" : startOf(anchor) || ""}
          {position?.status === "edited" && ", edited"}
        </span>
        <span className="block truncate">{visibleWords(last.body) || "suggestion"}</span>
      </span>
    </Choice>
  );
}
