"use client";
import type { Points } from "@/core/reading/points";
import type { CommitView } from "@/core/views/api";
import { Key } from "../parts/key";
import { GateSigns } from "./header";
import { ReadingButtons } from "./ladder/ladder";
import { type ReadingFacts, Said } from "./ladder/said";
import { useChangeSet } from "./state/context";

/** While a file is read, in one row: what the change set is called, what is read of it, and how its gate stands. It opens on demand. */
export function Brow({
  points,
  reading,
  commits,
  onToggle,
  onRevisions,
  onGate,
  onOpen,
}: {
  points: Points;
  reading: ReadingFacts;
  commits: CommitView[] | undefined;
  onToggle: (() => void) | null;
  onRevisions: () => void;
  onGate: () => void;
  onOpen: () => void;
}) {
  const { view } = useChangeSet();
  return (
    <section
      aria-label="The change set"
      className="flex h-9 flex-none items-center gap-4 border-b border-rule bg-page px-4 text-[13.5px]"
    >
      <h1 className="max-w-[26%] flex-none truncate font-serif text-[15.5px] font-semibold" title={view.title}>
        {view.title}
      </h1>
      <p className="min-w-0 flex-1 truncate">
        <Said {...{ points, commits, reading }} />
      </p>
      <ReadingButtons {...{ points, onToggle, onRevisions }} />
      <GateSigns onGate={onGate} />
      <button type="button" className="quiet-button flex-none" aria-expanded={false} onClick={onOpen}>
        open <Key>⇧B</Key>
      </button>
    </section>
  );
}
