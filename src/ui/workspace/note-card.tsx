"use client";
import { useEffect, useRef, useState } from "react";
import { anchorPlace } from "@/core/anchor/anchor";
import type { Unsent } from "@/core/api";
import { Key } from "../key";
import { SafeMarkdown } from "../markdown";
import { useWorkspace } from "./context";

const PAUSE = 350;

/** A remark that nobody else sees yet. It is kept as it is typed. */
export function NoteCard({ note }: { note: Unsent }) {
  const { saveNote, dropNote, freshNote } = useWorkspace();
  const fresh = freshNote === note.id;
  const [editing, setEditing] = useState(fresh || note.body === "");
  const keeping = useKeptText(note.body, (body, leaving) => saveNote(note, body, leaving));
  const field = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    if (!fresh) return;
    setEditing(true);
    field.current?.focus({ preventScroll: true });
  }, [fresh]);
  const finish = () => {
    keeping.flush();
    if (keeping.text.trim() === "") dropNote({ ...note, body: "" });
    else setEditing(false);
  };
  const drop = () => {
    keeping.cancel();
    dropNote({ ...note, body: keeping.text });
  };
  return (
    <article
      className="rounded-md border border-l-4 border-dashed border-brass border-l-brass bg-paper px-3 py-2 text-[14px]"
      aria-label="Your unsent remark"
      data-note={note.id}
    >
      <p className="flex justify-between gap-2 text-[12.5px] text-soft">
        <span>{note.anchor && anchorPlace(note.anchor)}</span>
        <span className="text-brass">unsent</span>
      </p>
      {editing ? (
        <>
          <textarea
            ref={field}
            // biome-ignore lint/a11y/noAutofocus: it opens because the person asked to write
            autoFocus={fresh}
            aria-label="Your remark, in Markdown"
            className="field mt-1 min-h-20 text-[14px]"
            placeholder="What should the author know? Markdown."
            value={keeping.text}
            onChange={(e) => keeping.type(e.target.value)}
            onKeyDown={(event) => {
              if ((event.key === "Enter" && event.ctrlKey) || event.key === "Escape") {
                event.preventDefault();
                event.stopPropagation();
                finish();
              }
            }}
          />
          <p className="mt-1 flex items-center gap-3">
            <button type="button" className="button" onClick={finish}>
              Done <Key>Esc</Key>
            </button>
            <button type="button" className="quiet-button" onClick={drop}>
              delete
            </button>
            <span className="flex-1 text-right text-[12px] text-faint" role="status">
              {keeping.state}
            </span>
          </p>
        </>
      ) : (
        <>
          <SafeMarkdown text={keeping.text} />
          <p className="mt-1 flex gap-4">
            <button type="button" className="quiet-button" onClick={() => setEditing(true)}>
              edit
            </button>
            <button type="button" className="quiet-button" onClick={drop}>
              delete
            </button>
          </p>
        </>
      )}
      {keeping.problem && (
        <p role="alert" className="mt-1 text-clay">
          {keeping.problem}
        </p>
      )}
    </article>
  );
}

/**
 * Text that is kept on the server a moment after each pause in typing, and at once when the page is left. What could not be kept stays
 * in the field, is said, and is tried again.
 */
export function useKeptText(initial: string, save: (text: string, leaving: boolean) => Promise<string | null>) {
  const [text, setText] = useState(initial);
  const [state, setState] = useState("");
  const [problem, setProblem] = useState("");
  const latest = useRef({ text: initial, kept: initial, timer: 0, save });
  latest.current.save = save;

  const flush = (leaving = false) => {
    const now = latest.current;
    window.clearTimeout(now.timer);
    if (now.text === now.kept) return;
    const sending = now.text;
    setState("keeping …");
    void now.save(sending, leaving).then((refusal) => {
      setProblem(refusal ? `Not kept yet: ${refusal}` : "");
      setState(refusal ? "" : "kept");
      if (refusal) now.timer = window.setTimeout(() => flushRef.current(), 4_000);
      else now.kept = sending;
    });
  };
  const flushRef = useRef(flush);
  flushRef.current = flush;

  useEffect(() => {
    const leave = () => flushRef.current(true);
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      flushRef.current(false);
    };
  }, []);

  return {
    text,
    state,
    problem,
    type: (next: string) => {
      setText(next);
      latest.current.text = next;
      window.clearTimeout(latest.current.timer);
      latest.current.timer = window.setTimeout(() => flushRef.current(), PAUSE);
    },
    flush: () => flush(),
    /** Forgets what was typed and not kept. */
    cancel: () => {
      window.clearTimeout(latest.current.timer);
      latest.current.kept = latest.current.text;
    },
  };
}
