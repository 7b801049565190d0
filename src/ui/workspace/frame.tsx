"use client";
import type { Points } from "@/core/reading/points";
import type { CommitView } from "@/core/views/api";
import { useRemembered } from "../kept/use-remembered";
import { useActions } from "./actions/use-actions";
import { Brow } from "./brow";
import { Header } from "./header";
import { Ladder } from "./ladder/ladder";
import type { ReadingFacts } from "./ladder/said";

/** What is told of a change set above what is read of it: whole beside the brief; in one row while a file is read, unless it was opened. */
export function Frame({
  inFile,
  onChoose,
  onGate,
  ...said
}: {
  inFile: boolean;
  points: Points;
  reading: ReadingFacts;
  commits: CommitView[] | undefined;
  onChoose: (points: Points) => void;
  onToggle: (() => void) | null;
  onRevisions: () => void;
  onGate: () => void;
}) {
  const [frame, setFrame] = useRemembered<"folded" | "open">("frame", "folded");
  useActions({ frame: inFile ? () => setFrame(frame === "open" ? "folded" : "open") : null });
  if (inFile && frame === "folded") return <Brow {...{ ...said, onGate, onOpen: () => setFrame("open") }} />;
  return (
    <>
      <Header onGate={onGate} onFold={inFile ? () => setFrame("folded") : null} />
      <Ladder {...{ ...said, onChoose }} />
    </>
  );
}
