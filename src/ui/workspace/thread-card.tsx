"use client";
import { useEffect, useRef, useState } from "react";
import type { Place } from "@/core/anchor/follow";
import { inThread, type Thread } from "@/core/review/state";
import { counted } from "@/core/words";
import { Key } from "../key";
import { SafeMarkdown } from "../markdown";
import { When } from "../when";
import { byName, nameIn, useWorkspace } from "./context";
import { useKeys } from "./keys";

/** A conversation beside its line. Resolved ones fold to one line, and open again. */
export function ThreadCard({ thread, place }: { thread: Thread; place: Place | null }) {
  const { view, command, activeThread, setActiveThread } = useWorkspace();
  const [unfolded, setUnfolded] = useState(false);
  const [replying, setReplying] = useState(false);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const card = useRef<HTMLElement>(null);
  const active = activeThread === thread.id;
  const mayResolve = view.me.role === "keeper" || inThread(view.author, thread, view.me.id);

  useEffect(() => {
    if (active) card.current?.focus({ preventScroll: true });
  }, [active]);

  const run = async (request: Parameters<typeof command>[0]) => {
    setBusy(true);
    const refusal = await command(request);
    setBusy(false);
    setProblem(refusal ?? "");
    return refusal;
  };
  const settle = () => mayResolve && void run({ kind: thread.resolved ? "reopen" : "resolve", thread: thread.id });
  const reply = () => {
    setUnfolded(true);
    setReplying(true);
  };
  useKeys({ r: reply, x: settle }, active);

  const [first] = thread.comments;
  const folded = thread.resolved !== null && !unfolded && !replying;
  return (
    <article
      ref={card}
      tabIndex={-1}
      aria-label={`Thread by ${byName(view, first.by)}, ${thread.resolved ? "resolved" : "open"}`}
      onFocus={() => setActiveThread(thread.id)}
      data-thread={thread.id}
      className={`rounded-md border border-l-4 bg-paper px-3 py-2 text-[14px] ${thread.resolved ? "border-rule border-l-rule" : "border-rule border-l-slate"} ${active ? "outline-2 outline-brass" : "outline-none"}`}
    >
      <p className="flex justify-between gap-2 text-[12.5px] text-soft">
        <span>
          {thread.resolved
            ? `✓ resolved at r${thread.resolved.revision} by ${byName(view, thread.resolved.by)}`
            : standing(thread, place)}
        </span>
        <span className="flex-none">r{thread.anchor.revision}</span>
      </p>
      {folded ? (
        <button
          type="button"
          className="block w-full truncate text-left text-soft hover:underline"
          onClick={() => setUnfolded(true)}
        >
          {nameIn(view, first.by)}: {first.body}{" "}
          {thread.comments.length > 1 && (
            <span className="text-faint">{counted(thread.comments.length - 1, "reply", "replies")}</span>
          )}
        </button>
      ) : (
        <>
          <ol>
            {thread.comments.map((comment) => (
              <li key={comment.id} className="mt-1.5">
                <p className="text-[13px]">
                  <span className="font-semibold">{nameIn(view, comment.by)}</span>{" "}
                  <span className="text-faint">
                    <When at={comment.at} />
                  </span>
                </p>
                <SafeMarkdown text={comment.body} />
              </li>
            ))}
          </ol>
          {(place?.fate === "gone" || place?.fate === "edited") && <WrittenOn text={thread.anchor.text} />}
          {replying ? (
            <Reply
              busy={busy}
              onSend={async (body) => {
                const refusal = await run({ kind: "reply", thread: thread.id, body });
                if (!refusal) setReplying(false);
              }}
              onCancel={() => setReplying(false)}
            />
          ) : (
            <p className="mt-2 flex flex-wrap gap-x-4">
              <button type="button" className="quiet-button" onClick={reply}>
                reply {active && <Key>R</Key>}
              </button>
              {mayResolve && (
                <button type="button" className="quiet-button" disabled={busy} onClick={settle}>
                  {thread.resolved ? "open again" : "resolve"} {active && <Key>X</Key>}
                </button>
              )}
              {thread.resolved && (
                <button type="button" className="quiet-button" onClick={() => setUnfolded(false)}>
                  fold
                </button>
              )}
            </p>
          )}
        </>
      )}
      {problem && (
        <p role="alert" className="mt-1 text-clay">
          {problem}
        </p>
      )}
    </article>
  );
}

function standing({ anchor }: Thread, place: Place | null): string {
  const old = anchor.side === "old" ? "old " : "";
  if (!place || place.fate === "unchanged") return `open · ${old}line ${anchor.start}`;
  if (place.fate === "gone") return `open · ${old}line ${anchor.start} is gone`;
  if (place.fate === "edited") return `open · ${old}line ${anchor.start} was edited since`;
  return `open · line ${place.start}, was ${anchor.start}`;
}

/** The lines as they were when the remark was made. */
function WrittenOn({ text }: { text: string[] }) {
  return (
    <figure className="mt-2">
      <figcaption className="text-[12px] text-soft">Written about</figcaption>
      <pre className="overflow-x-auto rounded bg-well px-2 py-1 font-mono text-[11.5px]">
        {text.slice(0, 6).join("\n")}
      </pre>
    </figure>
  );
}

function Reply({ busy, onSend, onCancel }: { busy: boolean; onSend: (body: string) => void; onCancel: () => void }) {
  const [body, setBody] = useState("");
  return (
    <div className="mt-2">
      <textarea
        // biome-ignore lint/a11y/noAutofocus: it opens because the person asked to write
        autoFocus
        aria-label="Your reply, in Markdown"
        className="field min-h-16 text-[14px]"
        value={body}
        onChange={(e) => setBody(e.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && event.ctrlKey && body.trim() !== "") onSend(body);
          if (event.key === "Escape" && body.trim() === "") onCancel();
        }}
      />
      <p className="mt-1 flex gap-3">
        <button type="button" className="button" disabled={busy || body.trim() === ""} onClick={() => onSend(body)}>
          Reply
        </button>
        <button type="button" className="quiet-button" onClick={onCancel}>
          cancel
        </button>
      </p>
    </div>
  );
}
