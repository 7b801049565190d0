"use client";
import { useState } from "react";
import { useWorkspace } from "./context";
import { Sheet, SheetFoot } from "./sheet";

/** The message of the merge commit, to be edited, and the merge itself. */
export function MergeSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { view } = useWorkspace();
  return (
    <Sheet
      title={`Merge r${view.revisions.length} into ${view.target}`}
      about={`By a merge commit on ${view.target}, in your name. The branch ${view.source} is left as it is.`}
      open={open}
      onClose={onClose}
      wide
    >
      <MergeForm onClose={onClose} />
    </Sheet>
  );
}

function MergeForm({ onClose }: { onClose: () => void }) {
  const { view, command, tell } = useWorkspace();
  const [message, setMessage] = useState(view.mergeMessage);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const merge = async () => {
    setBusy(true);
    const refusal = await command({ kind: "merge", revision: view.revisions.length, message });
    setBusy(false);
    if (refusal) return setProblem(refusal);
    tell(`Merged into ${view.target}.`);
    onClose();
  };
  return (
    <>
      <label className="grid gap-1 px-6 py-4">
        <span className="text-soft">Message of the merge commit</span>
        <textarea
          name="message"
          className="field min-h-56 font-mono text-[13px]"
          value={message}
          onChange={(e) => setMessage(e.target.value)}
        />
      </label>
      <SheetFoot problem={problem} busy={busy} deed="Merge" doing="Merging …" onDeed={merge} onClose={onClose} />
    </>
  );
}
