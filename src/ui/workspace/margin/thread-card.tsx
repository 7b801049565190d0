"use client";
import { useEffect, useRef, useState } from "react";
import type { AnchorPosition } from "@/core/anchor/anchor-history";
import type { Place } from "@/core/anchor/follow";
import { counted } from "@/core/plain/words";
import { isPut, positionOf } from "@/core/review/answered";
import { goesOn, inThread, type Thread } from "@/core/review/state";
import { bare } from "@/core/suggest/suggestion";
import type { UnsentReply } from "@/core/views/api";
import { newId } from "../../asking/new-id";
import { useDraft } from "../../kept/use-draft";
import { Key } from "../../parts/key";
import { useActions } from "../actions/use-actions";
import { byName, hasWords, nameIn, useAttention, useChangeSet } from "../state/context";
import { afterPress } from "./after-press";
import { CommentView } from "./comment";
import { whereNow } from "./note-card";
import { Reply, WaitingReply } from "./reply";
import { SmallDiff } from "./small-diff";
import { Suggestions } from "./suggestion-view";
import { WeightMark } from "./weight";

/** Longer threads show their first comment and the last few; the rest opens. */
const SHOWN = 4;

/** A conversation beside its line. Resolved ones fold to one line, and open again. */
export function ThreadCard({ thread, place }: { thread: Thread; place: Place | null }) {
  const { view, command, saveNote } = useChangeSet();
  const waiting = view.unsent.find((note): note is UnsentReply => note.kind === "reply" && note.thread === thread.id);
  const { shown: upTo, activeThread, setActiveThread } = useAttention();
  const [unfolded, setUnfolded] = useState(false);
  const [all, setAll] = useState(false);
  // What was typed outlasts a closed tab.
  const { value: draft, change: setDraft, forget } = useDraft(`reply ${thread.id}`, "");
  const [replying, setReplying] = useState(false);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const card = useRef<HTMLElement>(null);
  const active = activeThread === thread.id;
  const mayResolve = view.me.role === "keeper" || inThread(view.author, thread, view.me.id);

  useEffect(() => {
    if (!active) return;
    // Beside its lines it is shown with them.
    const beside = card.current?.closest("aside") !== null;
    card.current?.focus({ preventScroll: beside });
  }, [active]);

  /** One thing at a time: pressed twice, it is done once. */
  const once = async (work: () => Promise<string | null>) => {
    setBusy(true);
    const refusal = await work();
    setBusy(false);
    setProblem(refusal ?? "");
    return refusal;
  };
  const run = (request: Parameters<typeof command>[0]) => once(() => command(request));
  const settle = () => mayResolve && void run({ kind: thread.resolved ? "reopen" : "resolve", thread: thread.id });
  const reply = () => {
    setUnfolded(true);
    if (!waiting) setReplying(true);
  };
  const position = upTo === null ? null : positionOf(thread, view.histories, upTo);
  const put = isPut(view, thread, view.histories) !== null && thread.comments[0].by === view.me.id;
  const [compared, setCompared] = useState(put);
  const touched =
    position?.status === "edited" ||
    position?.status === "gone" ||
    (!position && place?.status === "edited") ||
    (!position && place?.status === "gone");
  const evidence = thread.anchor.kind === "lines" && touched;
  useActions(active ? { reply, settle, "then-and-now": () => setCompared(!compared) } : {});

  const [first] = thread.comments;
  const machine = view.people[first.by]?.machine ?? false;
  const folded = thread.resolved !== null && !unfolded && !replying && !waiting;
  const hidden = all ? 0 : Math.max(0, thread.comments.length - SHOWN);
  const shown = hidden > 0 ? [first, ...thread.comments.slice(hidden + 1)] : thread.comments;
  const edge = thread.resolved ? "border-l-rule" : machine ? "border-l-ochre" : "border-l-slate";
  return (
    <article
      ref={card}
      tabIndex={-1}
      aria-label={`Thread by ${byName(view, first.by)}, ${thread.resolved ? "resolved" : "open"}`}
      onFocus={() => afterPress(() => setActiveThread(thread.id))}
      data-thread={thread.id}
      className={`rounded-md border border-l-4 border-rule bg-paper px-3 py-2 text-[14px] ${edge} ${active ? "outline-2 outline-brass" : "outline-none"}`}
    >
      <p className="flex items-center justify-between gap-2 text-[12.5px] text-soft">
        <span>
          {thread.resolved
            ? `✓ resolved at r${thread.resolved.revision} by ${byName(view, thread.resolved.by)}`
            : `open · ${whereNow(thread.anchor, place, position)}`}
        </span>
        <span className="flex flex-none items-center gap-2">
          {!thread.resolved && (
            <WeightMark
              weight={thread.weight}
              onWeight={
                first.by === view.me.id || view.me.role === "keeper"
                  ? (weight) => void run({ kind: "weigh", thread: thread.id, weight })
                  : null
              }
            />
          )}
          r{thread.anchor.revision}
        </span>
      </p>
      {folded ? (
        <button
          type="button"
          className="block w-full truncate text-left text-soft hover:underline"
          onClick={() => setUnfolded(true)}
        >
          {nameIn(view, first.by)}: {first.body || "(nothing left)"}{" "}
          {thread.comments.length > 1 && (
            <span className="text-faint">{counted(thread.comments.length - 1, "reply", "replies")}</span>
          )}
        </button>
      ) : (
        <>
          <ol>
            {shown.map((comment, i) => (
              <CommentView key={comment.id} thread={thread} comment={comment}>
                {i === 0 && <Suggestions thread={thread} place={place} />}
                {i === 0 && hidden > 0 && (
                  <button type="button" className="quiet-button mt-1 text-[13px]" onClick={() => setAll(true)}>
                    show {counted(hidden, "earlier reply", "earlier replies")}
                  </button>
                )}
              </CommentView>
            ))}
          </ol>
          {evidence && compared && <ThenAndNow thread={thread} position={position} />}
          {waiting && <WaitingReply note={waiting} />}
          {put && !replying && <p className="mt-2 font-semibold">Answered?</p>}
          {replying ? (
            <Reply
              busy={busy}
              body={draft}
              onBody={setDraft}
              mayResolve={mayResolve && thread.resolved === null}
              mayWait={goesOn(view) && view.me.remark.may}
              inReview={view.unsent.some(hasWords)}
              onSend={async (body, resolves, inReview) => {
                const note = { kind: "reply" as const, id: newId(), thread: thread.id, body, resolves, changedAt: 0 };
                const refusal = inReview
                  ? await once(() => saveNote(note))
                  : await run({ kind: resolves ? "resolve" : "reply", thread: thread.id, body });
                if (refusal) return;
                forget();
                setReplying(false);
              }}
              onCancel={() => setReplying(false)}
            />
          ) : (
            <p className="mt-2 flex flex-wrap gap-x-4">
              {!waiting && (
                <button type="button" className="quiet-button" onClick={reply}>
                  {draft.trim() !== "" ? "go on with your reply" : put ? "not yet" : "reply"} {active && <Key>R</Key>}
                </button>
              )}
              {mayResolve && (
                <button type="button" className="quiet-button" disabled={busy} onClick={settle}>
                  {thread.resolved ? "open again" : put ? "yes, resolve" : "resolve"} {active && <Key>X</Key>}
                </button>
              )}
              {evidence && (
                <button
                  type="button"
                  className="quiet-button"
                  aria-expanded={compared}
                  onClick={() => setCompared(!compared)}
                >
                  then and now {active && <Key>I</Key>}
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

/** What the lines said when the remark was made, and what stands there now. */
function ThenAndNow({ thread: { anchor }, position }: { thread: Thread; position: AnchorPosition | null }) {
  if (anchor.kind !== "lines") return null;
  const now = position?.now ?? [];
  return (
    <figure className="mt-2">
      <figcaption className="text-[12px] text-soft">
        {position?.status === "gone"
          ? `Written about these lines, removed in r${position.since}`
          : position
            ? `r${anchor.revision} and r${position.revision}`
            : `Written about these lines of r${anchor.revision}`}
      </figcaption>
      <SmallDiff was={anchor.text.map(bare)} lines={position ? now.map(bare) : anchor.text.map(bare)} />
    </figure>
  );
}
