"use client";
import { useState } from "react";
import { anchorName } from "@/core/anchor/anchor";
import { counted } from "@/core/plain/words";
import { useDraft } from "../../kept/use-draft";
import { PlainField } from "../../words/plain-field";
import { SmallDiff } from "../margin/small-diff";
import { byName, useChangeSet, useTell } from "../state/context";
import { Sheet, SheetFoot } from "./sheet";

/** Everything that is picked, and the one commit that takes it. */
export function TakeSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { view } = useChangeSet();
  return (
    <Sheet
      title="Take the suggestions"
      about={`One commit on ${view.source}, which becomes r${view.revisions.length + 1}. Whoever made them is credited in it.`}
      open={open}
      onClose={onClose}
      wide
    >
      <TakeForm onClose={onClose} />
    </Sheet>
  );
}

function TakeForm({ onClose }: { onClose: () => void }) {
  const { view, command, pick } = useChangeSet();
  const tell = useTell();
  // As proposed for what is picked, until somebody writes their own.
  const written = useDraft<string | null>(`take ${view.id}`, null);
  const message = written.value ?? view.pickMessage;
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const picked = view.threads.flatMap((thread) =>
    thread.suggestions.filter(({ id }) => view.picked.includes(id)).map((suggestion) => ({ thread, suggestion })),
  );
  const take = async () => {
    setBusy(true);
    const refusal = await command({ kind: "take", message });
    setBusy(false);
    if (refusal) return setProblem(refusal);
    written.forget();
    tell(`Took ${counted(picked.length, "suggestion")}: r${view.revisions.length + 1} is there.`);
    onClose();
  };
  return (
    <>
      <div className="min-h-0 flex-1 overflow-y-auto px-6 py-4">
        {picked.length === 0 && <p className="text-soft">No suggestion is picked.</p>}
        <ul className="grid gap-3">
          {picked.map(({ thread, suggestion }) => (
            <li key={suggestion.id}>
              <p className="flex gap-3 text-[13px] text-soft">
                <span className="min-w-0 flex-1 truncate">
                  {anchorName(thread.anchor)} · by {byName(view, thread.comments[0].by)}
                </span>
                <button
                  type="button"
                  className="quiet-button"
                  onClick={() => {
                    setProblem("");
                    void pick(thread.id, suggestion.id, false);
                  }}
                >
                  put it back
                </button>
              </p>
              <SmallDiff was={suggestion.was} lines={suggestion.lines} />
            </li>
          ))}
        </ul>
        <div className="mt-4">
          <PlainField
            label="Message of the commit; the credits are added below it"
            className="min-h-28 font-mono text-[12.5px]"
            text={message}
            onText={written.change}
          />
        </div>
      </div>
      <SheetFoot
        problem={problem}
        busy={busy || picked.length === 0}
        action="Take them"
        doing={busy ? "Taking …" : "Take them"}
        onAction={take}
        onClose={onClose}
      />
    </>
  );
}
