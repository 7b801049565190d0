"use client";
import { type KeyboardEvent, useCallback, useContext, useEffect, useMemo, useState } from "react";
import { type Anchor, anchorPlace } from "@/core/anchor/anchor";
import { type AnchorPosition, anchorNow, positionWords } from "@/core/anchor/anchor-history";
import type { Place } from "@/core/anchor/follow";
import { positionOf } from "@/core/review/answered";
import { bare } from "@/core/suggest/suggestion";
import type { UnsentRemark } from "@/core/views/api";
import { useAsked } from "../../asking/use-asked";
import { Key } from "../../parts/key";
import { SafeMarkdown } from "../../parts/markdown";
import { WritingField } from "../../words/writing-field";
import { AlikeContext, changeWith, otherPlaces } from "../manuscript/alike";
import { useAttention, useChangeSet, useTell } from "../state/context";
import { fileQuery } from "../state/use-file";
import { SmallDiff } from "./small-diff";
import { SuggestionEditor } from "./suggestion-editor";
import { useKeptNote } from "./use-kept-note";
import { WeightMark } from "./weight";

/** A remark that nobody else sees yet. It is kept as it is written. */
export function NoteCard({ note, place }: { note: UnsentRemark; place: Place | null }) {
  const { view, dropNote, freshNote, leaveNote, command } = useChangeSet();
  const tell = useTell();
  const fresh = freshNote === note.id;
  const empty = note.body === "" && note.suggestions.length === 0;
  const [editing, setEditing] = useState(fresh || empty);
  // What was left open is there again with the page, without asking to be gone on with.
  const [wanted, setWanted] = useState(fresh);
  const { body, weight, suggestions } = note;
  const kept = useKeptNote(note, { body, weight, suggestions });
  const changes = useContext(AlikeContext);
  const alike = note.anchor.kind === "lines" ? changeWith(changes, note.anchor) : undefined;
  const elsewhere = alike ? otherPlaces(alike) : null;
  const lines = useLinesOf(note.anchor, editing);
  const now = kept.value;
  const { shown } = useAttention();
  const position = shown === null ? null : positionOf(note, view.histories, shown);
  const edit = useCallback(() => {
    setWanted(true);
    setEditing(true);
  }, []);
  useEffect(() => {
    if (fresh) edit();
  }, [fresh, edit]);
  useEffect(() => () => leaveNote(note.id), [leaveNote, note.id]);
  const finish = () => {
    leaveNote(note.id);
    void kept.flush();
    if (now.body.trim() === "" && now.suggestions.length === 0) dropNote({ ...note, body: "" });
    else setEditing(false);
  };
  const sendOne = async () => {
    const refusal = (await kept.flush()) ?? (await command({ kind: "send-one", note: note.id }));
    tell(refusal ?? "Sent this one remark.");
  };
  const leave = (event: KeyboardEvent) => {
    if (event.key !== "Escape") return;
    event.preventDefault();
    event.stopPropagation();
    finish();
  };
  return (
    <article
      className="rounded-md border border-l-4 border-dashed border-brass border-l-brass bg-paper px-3 py-2 text-[14px]"
      aria-label="Your unsent remark"
      data-note={note.id}
    >
      <p className="flex items-center justify-between gap-2 text-[12.5px] text-soft">
        <span>{whereNow(note.anchor, place, position)}</span>
        <span className="flex flex-none items-center gap-2">
          <WeightMark weight={now.weight} onWeight={(next) => kept.change({ weight: next })} />
          <span className="text-brass">unsent</span>
        </span>
      </p>
      {editing ? (
        <>
          <WritingField
            label="Your remark, in Markdown"
            repository={view.repository}
            focus={wanted}
            placeholder="What should the author know?"
            text={now.body}
            onText={(text) => kept.change({ body: text })}
            onKeyDown={leave}
          />
          {note.anchor.kind === "lines" && note.anchor.side === "new" && (
            <SuggestionEditor
              anchor={note.anchor}
              suggestions={now.suggestions}
              lines={lines}
              onChange={(next) => kept.change({ suggestions: next })}
              onLeave={finish}
            />
          )}
          {elsewhere && !now.body.includes(elsewhere) && (
            <p className="mt-1 text-[13px]">
              <button
                type="button"
                className="quiet-button"
                onClick={() => kept.change({ body: `${now.body.trimEnd()}\n\n${elsewhere}`.trimStart() })}
              >
                say it of all {alike?.of} places with this change
              </button>
            </p>
          )}
          <p className="mt-1 flex items-center gap-3">
            <button type="button" data-deed className="button" onClick={finish}>
              Done <Key>Esc</Key>
            </button>
            <button type="button" className="quiet-button" onClick={kept.drop}>
              delete
            </button>
            <span className="flex-1 text-right text-[12px] text-faint" role="status">
              {kept.state}
            </span>
          </p>
        </>
      ) : (
        <>
          <SafeMarkdown text={now.body} />
          {now.suggestions.map((suggestion) => (
            <SmallDiff key={suggestion.id} was={suggestion.was} lines={suggestion.lines} />
          ))}
          <p className="mt-1 flex flex-wrap gap-x-4">
            <button type="button" className="quiet-button" onClick={edit}>
              edit
            </button>
            <button type="button" className="quiet-button" onClick={kept.drop}>
              delete
            </button>
            <button
              type="button"
              className="quiet-button"
              title="By itself and at once, instead of with the review"
              onClick={sendOne}
            >
              send this one now
            </button>
          </p>
        </>
      )}
      {kept.problem && (
        <p role="alert" className="mt-1 text-clay">
          {kept.problem}
        </p>
      )}
    </article>
  );
}

/** Where a remark stands, and what has become of its lines since it was written: as the server tells it, or else as was found here. */
export function whereNow(anchor: Anchor, place: Place | null, position: AnchorPosition | null = null): string {
  if (position)
    return [
      anchorPlace(anchorNow(anchor, position.status === "gone" ? null : position)),
      positionWords(anchor, position),
    ]
      .filter(Boolean)
      .join(": ");
  const there = anchorPlace(anchor);
  if (anchor.kind !== "lines" || !place || place.status === "unchanged") return there;
  if (place.status === "gone") return `${there}: gone since r${anchor.revision}`;
  if (place.status === "edited") return `${there}: edited since r${anchor.revision}`;
  return `line ${place.start}, was ${anchor.start} in r${anchor.revision}`;
}

/** The text of the file that a remark stands in, in the state it was read, without line endings. */
export function useLinesOf(anchor: Anchor, wanted: boolean): string[] | undefined {
  const { view } = useChangeSet();
  const blob = anchor.kind === "lines" ? anchor.blob : null;
  const { data } = useAsked({ ...fileQuery(view.repository, blob, blob), enabled: wanted && blob !== null });
  return useMemo(() => {
    if (!wanted || !data) return undefined;
    return data.comparison.newLines > 0 ? data.text.split("\n").map(bare) : [];
  }, [wanted, data]);
}
