"use client";
import { useState } from "react";
import type { Place } from "@/core/anchor/follow";
import { goesOn, type MadeSuggestion, type Thread } from "@/core/review/state";
import type { Suggestion } from "@/core/suggest/suggestion";
import { byName, useChangeSet, useTell } from "../state/context";
import { useLinesOf } from "./note-card";
import { SmallDiff } from "./small-diff";
import { SuggestionEditor } from "./suggestion-editor";

/** The suggestions of a thread: what each changes, and for the author the way to take it. */
export function Suggestions({ thread, place }: { thread: Thread; place: Place | null }) {
  const { view, command } = useChangeSet();
  const tell = useTell();
  const [correcting, setCorrecting] = useState<Suggestion[] | null>(null);
  const lines = useLinesOf(thread.anchor, correcting !== null);
  const [first] = thread.comments;
  if (thread.suggestions.length === 0 || thread.anchor.kind !== "lines") return null;
  if (correcting) {
    const keep = async () => {
      const suggestions = correcting.map(({ id, start, end, lines: text }) => ({ id, start, end, lines: text }));
      const refusal = await command({
        kind: "edit",
        thread: thread.id,
        comment: first.id,
        body: first.body,
        suggestions,
      });
      if (refusal) tell(refusal);
      else setCorrecting(null);
    };
    return (
      <>
        <SuggestionEditor
          anchor={thread.anchor}
          suggestions={correcting}
          lines={lines}
          onChange={setCorrecting}
          onLeave={() => setCorrecting(null)}
        />
        <p className="mt-1 flex gap-3">
          <button type="button" className="button" onClick={keep}>
            Keep
          </button>
          <button type="button" className="quiet-button" onClick={() => setCorrecting(null)}>
            cancel
          </button>
        </p>
      </>
    );
  }
  const untaken = thread.suggestions.every(({ taken }) => taken === null);
  return (
    <>
      {thread.suggestions.map((suggestion) => (
        <div key={suggestion.id}>
          <SmallDiff was={suggestion.was} lines={suggestion.lines} />
          <Taking thread={thread} suggestion={suggestion} place={place} />
        </div>
      ))}
      {untaken && first.by === view.me.id && goesOn(view) && !first.erased && (
        <button
          type="button"
          className="quiet-button text-[13px]"
          onClick={() => setCorrecting(thread.suggestions.map(({ taken: _, ...rest }) => rest))}
        >
          correct the suggestion
        </button>
      )}
    </>
  );
}

function Taking({ thread, suggestion, place }: { thread: Thread; suggestion: MadeSuggestion; place: Place | null }) {
  const { view, pick } = useChangeSet();
  if (suggestion.taken) {
    return (
      <p className="text-[13px] text-teal">
        ✓ taken in r{suggestion.taken.revision} by {byName(view, suggestion.taken.by)}
      </p>
    );
  }
  if (!view.me.take.may) return null;
  if (place?.status === "gone" || place?.status === "edited")
    return <p className="text-[13px] text-soft">Its lines have changed since, so it cannot be picked as it is.</p>;
  const picked = view.picked.includes(suggestion.id);
  return (
    <button
      type="button"
      aria-pressed={picked}
      className={`rounded-md border px-2 text-[13px] ${picked ? "border-brass bg-brass-wash font-semibold" : "border-rule hover:border-brass"}`}
      onClick={() => void pick(thread.id, suggestion.id, !picked)}
    >
      {picked ? "✓ picked: put it back" : "pick"}
    </button>
  );
}
