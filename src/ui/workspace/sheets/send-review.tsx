"use client";
import { useMemo, useRef, useState } from "react";
import { anchorName } from "@/core/anchor/anchor";
import { visibleWords } from "@/core/cautions/visible";
import { counted, inFigures, listed } from "@/core/plain/words";
import type { Verdict } from "@/core/review/shapes";
import type { UnsentReply } from "@/core/views/api";
import { newId } from "../../asking/new-id";
import { useDraft } from "../../kept/use-draft";
import { useKeptOrSpared } from "../../kept/use-kept-or-spared";
import { WritingField } from "../../words/writing-field";
import { TaskNote } from "../brief/tasks";
import { WaitingReply } from "../margin/reply";
import { hasWords, nameIn, useChangeSet, useTell } from "../state/context";
import { useProgress } from "../state/use-progress";
import { CameSince } from "./came-since";
import { GateAfter } from "./gate-after";
import { RemarkToSend } from "./remark-to-send";
import { Sheet, SheetFoot } from "./sheet";

const VERDICTS: { verdict: Verdict; label: string; about: string }[] = [
  { verdict: "approve", label: "Approve", about: "It can go in as it is." },
  { verdict: "request-changes", label: "Request changes", about: "It must not merge before this is answered." },
  { verdict: "none", label: "No verdict", about: "Only the remarks." },
];

/** Everything that is about to be sent, the closing word and the verdict. It goes out as one. */
export function SendReview({
  open,
  revision,
  onNewest,
  onClose,
}: {
  open: boolean;
  revision: number;
  /** Shows what came after the revision that was read. */
  onNewest: () => void;
  onClose: () => void;
}) {
  return (
    <Sheet
      title="Send the review"
      about={`Of r${revision}. The author gets the remarks, the closing word and the verdict at once.`}
      open={open}
      onClose={onClose}
      wide
    >
      <SendForm revision={revision} onNewest={onNewest} onClose={onClose} />
    </Sheet>
  );
}

function SendForm({ revision, onNewest, onClose }: { revision: number; onNewest: () => void; onClose: () => void }) {
  const { view, command, saveNote } = useChangeSet();
  const tell = useTell();
  const closing = view.unsent.find(({ kind }) => kind === "closing");
  const closingId = useMemo(() => closing?.id ?? newId(), [closing?.id]);
  const kept = useKeptOrSpared(
    { place: `closing ${view.id}`, over: closing?.changedAt ?? 0 },
    { body: closing?.body ?? "" },
    ({ body }, leaving) => saveNote({ kind: "closing", id: closingId, body, changedAt: 0 }, leaving),
  );
  const chosen = useDraft<Verdict | null>(`verdict ${view.id} r${revision}`, null);
  const verdict = view.me.verdict.may ? chosen.value : "none";
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const verdicts = useRef<HTMLFieldSetElement>(null);
  const remarks = view.unsent.flatMap((note) => (note.kind === "remark" && hasWords(note) ? [note] : []));
  const replies = view.unsent.flatMap((note) => (note.kind === "reply" && hasWords(note) ? [note] : []));
  const tasks = view.unsent.flatMap((note) => (note.kind === "task" && hasWords(note) ? [note] : []));
  const outdated = revision < view.revisions.length;
  const send = async () => {
    if (!verdict) {
      setProblem("Choose a verdict first.");
      return verdicts.current?.querySelector<HTMLInputElement>("input:enabled")?.focus();
    }
    setBusy(true);
    // The closing word goes along with the command; nothing of it is to come to the server after that.
    await kept.flush();
    const { head, base } = view.revisions[revision - 1];
    const refusal = await command({
      kind: "send-review",
      revision,
      verdict,
      remark: kept.value.body,
      read: { head, base },
    });
    setBusy(false);
    if (refusal) return setProblem(refusal);
    kept.forget();
    chosen.forget();
    const said = [
      remarks.length > 0 ? counted(remarks.length, "remark") : "",
      replies.length > 0 ? counted(replies.length, "answer") : "",
      tasks.length > 0 ? counted(tasks.length, "task") : "",
      verdict === "approve" ? "your approval" : verdict === "request-changes" ? "your request for changes" : "",
    ].filter((words) => words !== "");
    tell(`Sent: ${listed(said) || "your closing word"}.`);
    onClose();
  };
  return (
    <>
      <div className="min-h-0 flex-1 overflow-y-auto px-6 py-4">
        {outdated && (
          <CameSince onNewest={onNewest} onClose={onClose}>
            You read r{revision}, and r{view.revisions.length} has come since: it cannot be approved from here.
          </CameSince>
        )}
        {remarks.length + tasks.length + replies.length === 0 ? (
          <p className="text-soft">No remarks are waiting to be sent.</p>
        ) : (
          <ul className="grid gap-2" aria-label="Remarks to be sent">
            {remarks.map((note) => (
              <RemarkToSend key={note.id} note={note} onClose={onClose} />
            ))}
            {replies.map((note) => (
              <li key={note.id} className="rounded-md border border-dashed border-brass px-3 py-2">
                <ReplyToSend note={note} />
              </li>
            ))}
            {tasks.map((note) => (
              <li key={note.id}>
                <TaskNote note={note} />
              </li>
            ))}
          </ul>
        )}
        <div className="mt-4">
          <p className="flex justify-between text-soft">
            Closing word <span className="text-[12px] text-faint">{kept.problem || kept.state}</span>
          </p>
          <WritingField
            name="closing"
            label="Closing word, in Markdown"
            repository={view.repository}
            text={kept.value.body}
            onText={(body) => kept.change({ body })}
          />
        </div>
        <fieldset ref={verdicts} className="mt-4">
          <legend className="text-soft">Verdict</legend>
          <div className="mt-1 grid grid-cols-3 gap-2 max-[700px]:grid-cols-1">
            {VERDICTS.map((choice) => {
              const allowed =
                choice.verdict === "none" || (view.me.verdict.may && !(choice.verdict === "approve" && outdated));
              return (
                <label
                  key={choice.verdict}
                  className={`rounded-md border px-3 py-2 ${verdict === choice.verdict ? "border-brass bg-brass-wash" : "border-rule"} ${allowed ? "cursor-pointer hover:border-brass" : "opacity-60"}`}
                >
                  <input
                    type="radio"
                    name="verdict"
                    value={choice.verdict}
                    checked={verdict === choice.verdict}
                    disabled={!allowed}
                    onChange={() => {
                      chosen.change(choice.verdict);
                      setProblem("");
                    }}
                    className="mr-2 accent-[var(--brass)]"
                  />
                  <span className="font-semibold">{choice.label}</span>
                  <span className="block text-soft">{choice.about}</span>
                </label>
              );
            })}
          </div>
          {!view.me.verdict.may && <p className="mt-2 text-soft">{view.me.verdict.why}</p>}
        </fieldset>
        <GateAfter verdict={verdict} notes={[...remarks, ...replies, ...tasks]} />
      </div>
      <SheetFoot
        problem={problem}
        note={<MostlyUnread verdict={verdict} revision={revision} />}
        busy={busy}
        action="Send"
        doing="Sending …"
        onAction={send}
        onClose={onClose}
      />
    </>
  );
}

/** An unsent answer, below the words that it answers. */
function ReplyToSend({ note }: { note: UnsentReply }) {
  const { view } = useChangeSet();
  const thread = view.threads.find(({ id }) => id === note.thread);
  if (!thread) return null;
  return (
    <>
      <p className="truncate text-[13px] text-soft">
        {anchorName(thread.anchor)} · {nameIn(view, thread.comments[0].by)}: {visibleWords(thread.comments[0].body)}
      </p>
      <WaitingReply note={note} />
    </>
  );
}

/** Who approves what they have mostly not read is told so, and may. */
function MostlyUnread({ verdict, revision }: { verdict: Verdict | null; revision: number }) {
  const { view } = useChangeSet();
  const progress = useProgress();
  if (verdict !== "approve" || revision < view.revisions.length || !progress) return null;
  // Who has marked nothing is not among those of whom it is told.
  const mine = progress[view.me.id] ?? { read: 0, total: null };
  if (mine.total !== null && mine.read * 2 >= mine.total) return null;
  return (
    <p className="border-l-4 border-l-ochre pl-3" role="status">
      You have marked {mine.read === 0 ? "none" : inFigures(mine.read)} of{" "}
      {mine.total === null ? "its lines" : counted(mine.total, "line")} read. You can approve it all the same.
    </p>
  );
}
