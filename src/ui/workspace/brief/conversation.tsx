"use client";
import { type Anchor, anchorName } from "@/core/anchor/anchor";
import { isHomeless } from "@/core/anchor/anchor-history";
import { positionOf } from "@/core/review/answered";
import { goesOn, newest } from "@/core/review/state";
import { NoteCard } from "../margin/note-card";
import { ThreadCard } from "../margin/thread-card";
import { useAttention, useChangeSet } from "../state/context";

/** What is said about something that is no file: the change set as a whole, or a commit. */
export function Conversation({ about }: { about: (anchor: Anchor) => boolean }) {
  const { view } = useChangeSet();
  const threads = view.threads.filter(({ anchor }) => about(anchor));
  const notes = view.unsent.flatMap((note) => (note.kind === "remark" && about(note.anchor) ? [note] : []));
  return (
    <>
      {threads.map((thread) => (
        <ThreadCard key={thread.id} thread={thread} place={null} />
      ))}
      {notes.map((note) => (
        <NoteCard key={note.id} note={note} place={null} />
      ))}
    </>
  );
}

/** Threads whose file is not there any more, neither in the newest revision nor in the base: they have no other place to stand. */
export function HomelessThreads() {
  const { view } = useChangeSet();
  const { shown } = useAttention();
  const revision = shown ?? newest(view).number;
  const threads = view.threads.filter((thread) => isHomeless(positionOf(thread, view.histories, revision)));
  if (threads.length === 0) return null;
  return (
    <section aria-label="On files that are gone" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">On files that are gone</h2>
      <div className="mt-2 grid max-w-2xl gap-2">
        {threads.map((thread) => (
          <div key={thread.id}>
            <code className="font-mono text-[12px] text-soft">{anchorName(thread.anchor)}</code>
            <ThreadCard thread={thread} place={{ status: "gone" }} />
          </div>
        ))}
      </div>
    </section>
  );
}

/** Remarks on the change set as a whole, and the way to make one. */
export function WholeRemarks() {
  const { view, startNote } = useChangeSet();
  const whole = (anchor: Anchor) => anchor.kind === "change";
  const any = view.threads.some(({ anchor }) => whole(anchor));
  const may = goesOn(view) && view.me.remark.may;
  if (!any && !may) return null;
  return (
    <section aria-label="On the whole" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">On the whole</h2>
      <div className="mt-2 grid max-w-2xl gap-2">
        <Conversation about={whole} />
      </div>
      {may && (
        <button
          type="button"
          className="button mt-2"
          onClick={() => startNote({ kind: "change", revision: newest(view).number })}
        >
          Remark on the change set …
        </button>
      )}
    </section>
  );
}
