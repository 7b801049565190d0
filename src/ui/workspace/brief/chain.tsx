"use client";
import Link from "next/link";
import type { ChainLine } from "@/core/views/api";
import { useChangeSet } from "../state/context";

/** How this change set stands to others that are open: on which it stands, which stand on it, and what to know before it merges. */
export function Chain() {
  const { view } = useChangeSet();
  const { on, under, notes } = view.chain;
  if (!on && under.length === 0 && notes.length === 0) return null;
  return (
    <section aria-label="Chain" className="mt-3 grid gap-1 border-l-2 border-rule pl-3 text-[14px] leading-5">
      {on && (
        <p>
          It stands on <To line={on} />. When that merges, this goes to its target by itself.
        </p>
      )}
      {under.length > 0 && (
        <p>
          On it {under.length === 1 ? "stands " : "stand "}
          {under.map((line, i) => (
            <span key={line.number}>
              {i > 0 && (i === under.length - 1 ? " and " : ", ")}
              <To line={line} />
            </span>
          ))}
          .
        </p>
      )}
      {notes.map((note) => (
        <Note key={note} note={note} />
      ))}
    </section>
  );
}

function To({ line }: { line: ChainLine }) {
  const { view } = useChangeSet();
  return (
    <Link
      prefetch={false}
      className="text-slate underline underline-offset-2 hover:decoration-2"
      href={`/r/${view.repository}/c/${line.number}`}
      title={line.title}
    >
      change set {line.number}
      {line.state === "draft" && " (a draft)"}
    </Link>
  );
}

/** A sentence; a command at its end stands by itself, to be copied. */
function Note({ note }: { note: string }) {
  const at = note.indexOf(" git ");
  const [words, command] = at < 0 ? [note, null] : [note.slice(0, at), note.slice(at + 1)];
  return (
    <div className="text-clay">
      <p>{words}</p>
      {command && (
        <code className="mt-1 block select-all break-words rounded bg-well px-2 py-1 font-mono text-[11.5px] text-ink">
          {command}
        </code>
      )}
    </div>
  );
}
