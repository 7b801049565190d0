"use client";
import { useState } from "react";
import { anchorName } from "@/core/anchor/anchor";
import { wrongSuggestions } from "@/core/suggest/suggestion";
import type { UnsentRemark } from "@/core/views/api";
import { SafeMarkdown } from "../../parts/markdown";
import { WritingField } from "../../words/writing-field";
import { useLinesOf } from "../margin/note-card";
import { SmallDiff } from "../margin/small-diff";
import { SuggestionEditor } from "../margin/suggestion-editor";
import { useKeptNote } from "../margin/use-kept-note";
import { WeightMark } from "../margin/weight";
import { useAttention, useChangeSet } from "../state/context";

/** An unsent remark, to be looked at once more and mended before it goes. */
export function RemarkToSend({ note, onClose }: { note: UnsentRemark; onClose: () => void }) {
  const { view } = useChangeSet();
  const { goTo } = useAttention();
  const [editing, setEditing] = useState(false);
  const kept = useKeptNote(note, { body: note.body, weight: note.weight, suggestions: note.suggestions });
  const lines = useLinesOf(note.anchor, editing);
  const wrong = wrongSuggestions(kept.value.suggestions, anchorName(note.anchor));
  return (
    <li data-deeds className="rounded-md border border-dashed border-brass px-3 py-2">
      <p className="flex items-center gap-3 text-[13px] text-soft">
        <span className="min-w-0 flex-1 truncate">{anchorName(note.anchor)}</span>
        <WeightMark weight={kept.value.weight} onWeight={(next) => kept.change({ weight: next })} />
        <button
          type="button"
          className="quiet-button"
          onClick={() => {
            goTo(note.anchor, null);
            onClose();
          }}
        >
          go there
        </button>
        <button
          type="button"
          data-deed={editing || undefined}
          className="quiet-button"
          aria-expanded={editing}
          onClick={() => setEditing(!editing)}
        >
          {editing ? "done" : "edit"}
        </button>
        <button type="button" className="quiet-button" onClick={kept.drop}>
          delete
        </button>
      </p>
      {editing ? (
        <>
          <WritingField
            label="Your remark, in Markdown"
            repository={view.repository}
            focus
            text={kept.value.body}
            onText={(text) => kept.change({ body: text })}
          />
          {note.anchor.kind === "lines" && note.anchor.side === "new" && (
            <SuggestionEditor
              anchor={note.anchor}
              suggestions={kept.value.suggestions}
              lines={lines}
              onChange={(suggestions) => kept.change({ suggestions })}
              onLeave={() => setEditing(false)}
            />
          )}
        </>
      ) : (
        <>
          <SafeMarkdown text={kept.value.body} />
          {kept.value.suggestions.map((suggestion) => (
            <SmallDiff key={suggestion.id} was={suggestion.was} lines={suggestion.lines} />
          ))}
          {wrong && <p className="text-clay">{wrong}</p>}
        </>
      )}
      {kept.problem && <p className="text-clay">{kept.problem}</p>}
    </li>
  );
}
