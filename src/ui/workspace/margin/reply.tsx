"use client";
import { useState } from "react";
import type { UnsentReply } from "@/core/views/api";
import { SafeMarkdown } from "../../parts/markdown";
import { WritingField } from "../../words/writing-field";
import { useChangeSet, useTell } from "../state/context";
import { useKeptNote } from "./use-kept-note";

/** An answer in a thread as it is written. While a review is being written it goes with that, otherwise at once; either is one press. */
export function Reply({
  body,
  onBody,
  busy,
  mayResolve,
  mayWait,
  inReview: begun,
  onSend,
  onCancel,
}: {
  body: string;
  onBody: (body: string) => void;
  busy: boolean;
  mayResolve: boolean;
  /** A review can still be sent: not when it is merged, say. */
  mayWait: boolean;
  /** Something is written already that is not sent: what is said goes with it unless it is said otherwise. */
  inReview: boolean;
  onSend: (body: string, resolves: boolean, inReview: boolean) => void;
  onCancel: () => void;
}) {
  const { view } = useChangeSet();
  const [resolves, setResolves] = useState(false);
  const nothing = busy || body.trim() === "";
  const inReview = mayWait && begun;
  const now = { later: false, words: inReview ? "Send it now" : "Reply" };
  const withReview = { later: true, words: inReview ? "Reply with the review" : "with the review" };
  const ways = !mayWait ? [now] : inReview ? [withReview, now] : [now, withReview];
  return (
    <div className="mt-2">
      <WritingField
        label="Your reply, in Markdown"
        repository={view.repository}
        focus
        className="min-h-16"
        text={body}
        onText={onBody}
        onKeyDown={(event) => {
          if (event.key === "Escape" && body.trim() === "") onCancel();
        }}
      />
      {mayResolve && (
        <label className="mt-1 flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-[var(--brass)]"
            checked={resolves}
            onChange={(event) => setResolves(event.target.checked)}
          />
          and resolve the thread
        </label>
      )}
      <p className="mt-1 flex flex-wrap items-center gap-3">
        {ways.map(({ later, words }, i) => (
          <button
            key={words}
            type="button"
            data-deed={i === 0 || undefined}
            className={i === 0 ? "button" : "quiet-button"}
            disabled={nothing}
            onClick={() => onSend(body, resolves, later)}
          >
            {words}
          </button>
        ))}
        <button type="button" className="quiet-button" onClick={onCancel}>
          cancel
        </button>
      </p>
    </div>
  );
}

/** An answer that goes out with the review. Nobody else sees it yet. */
export function WaitingReply({ note }: { note: UnsentReply }) {
  const { view, command } = useChangeSet();
  const tell = useTell();
  const [editing, setEditing] = useState(false);
  const kept = useKeptNote(note, { body: note.body, resolves: note.resolves });
  const sendNow = async () => {
    const refusal = (await kept.flush()) ?? (await command({ kind: "send-one", note: note.id }));
    tell(refusal ?? "Sent this one answer.");
  };
  return (
    <section
      aria-label="Your unsent answer"
      data-deeds
      data-note={note.id}
      className="mt-2 border-t border-dashed border-brass pt-1.5"
    >
      <p className="flex justify-between text-[12.5px] text-brass">
        {kept.value.resolves ? "You, and it resolves the thread" : "You"} <span>unsent</span>
      </p>
      {editing ? (
        <WritingField
          label="Your answer, in Markdown"
          repository={view.repository}
          focus
          className="min-h-16"
          text={kept.value.body}
          onText={(body) => kept.change({ body })}
          onKeyDown={(event) => {
            if (event.key !== "Escape") return;
            event.stopPropagation();
            setEditing(false);
          }}
        />
      ) : (
        <SafeMarkdown text={kept.value.body} />
      )}
      <p className="mt-1 flex flex-wrap gap-x-4">
        <button
          type="button"
          data-deed={editing || undefined}
          className="quiet-button"
          onClick={() => setEditing(!editing)}
        >
          {editing ? "done" : "edit"}
        </button>
        <button type="button" className="quiet-button" onClick={kept.drop}>
          delete
        </button>
        <button type="button" className="quiet-button" onClick={() => void sendNow()}>
          send it now
        </button>
      </p>
      {kept.problem && (
        <p role="alert" className="text-clay">
          {kept.problem}
        </p>
      )}
    </section>
  );
}
