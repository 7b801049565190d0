"use client";
import { useQueries } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import { anchorName } from "@/core/anchor/anchor";
import type { UnsentRemark, UnsentTask } from "@/core/api";
import type { Verdict } from "@/core/review/shapes";
import { counted, listed } from "@/core/words";
import { ask } from "../../ask";
import { SafeMarkdown } from "../../markdown";
import { newId } from "../../new-id";
import { useDraft } from "../../use-draft";
import { useKept } from "../../use-kept";
import { WritingField } from "../../words/writing-field";
import { TaskNote } from "../brief/tasks";
import { SmallDiff } from "../margin/small-diff";
import { useKeptNote } from "../margin/use-kept-note";
import { WeightMark } from "../margin/weight";
import { hasWords, useAttention, useChangeSet, useTell } from "../state/context";
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
  const kept = useKept(closing?.body ?? "", (body, leaving) =>
    saveNote({ kind: "closing", id: closingId, body, changedAt: 0 }, leaving),
  );
  const chosen = useDraft<Verdict | null>(`verdict ${view.id} r${revision}`, null);
  const verdict = view.me.verdict.may ? chosen.value : "none";
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const verdicts = useRef<HTMLFieldSetElement>(null);
  const remarks = view.unsent.flatMap((note) => (note.kind === "remark" && hasWords(note) ? [note] : []));
  const tasks = view.unsent.flatMap((note) => (note.kind === "task" && hasWords(note) ? [note] : []));
  const outdated = revision < view.revisions.length;
  const send = async () => {
    if (!verdict) {
      setProblem("Choose a verdict first.");
      return verdicts.current?.querySelector<HTMLInputElement>("input:enabled")?.focus();
    }
    setBusy(true);
    kept.cancel();
    const refusal = await command({ kind: "send-review", revision, verdict, remark: kept.value });
    setBusy(false);
    if (refusal) return setProblem(refusal);
    chosen.forget();
    const said = [
      remarks.length > 0 ? counted(remarks.length, "remark") : "",
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
          <p className="mb-3 rounded-md border border-brass bg-brass-wash px-3 py-2">
            You read r{revision}, and r{view.revisions.length} has come since: it cannot be approved from here.{" "}
            <button
              type="button"
              className="quiet-button"
              onClick={() => {
                onClose();
                onNewest();
              }}
            >
              look at what is new first
            </button>
          </p>
        )}
        {remarks.length + tasks.length === 0 ? (
          <p className="text-soft">No remarks are waiting to be sent.</p>
        ) : (
          <ul className="grid gap-2" aria-label="Remarks to be sent">
            {remarks.map((note) => (
              <RemarkToSend key={note.id} note={note} onClose={onClose} />
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
            text={kept.value}
            onText={kept.change}
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
        <GateAfter verdict={verdict} notes={[...remarks, ...tasks]} />
      </div>
      <SheetFoot problem={problem} busy={busy} action="Send" doing="Sending …" onAction={send} onClose={onClose} />
    </>
  );
}

/**
 * What the gate will say once this is sent. It is asked for every verdict as soon as the sheet opens, and has its room from the beginning, so
 * that nothing moves under the pointer when one is chosen.
 */
function GateAfter({ verdict, notes }: { verdict: Verdict | null; notes: (UnsentRemark | UnsentTask)[] }) {
  const { view } = useChangeSet();
  const place = { repo: view.repository, number: String(view.number) };
  // Asked again when something was said meanwhile, or what is to be sent changed.
  const state = `${view.changedAt} ${notes.map(({ id, changedAt }) => `${id} ${changedAt}`).join()}`;
  const gates = useQueries({
    queries: VERDICTS.map((one) => ({
      queryKey: ["gate after", place, one.verdict, state],
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        ask("GET /api/repos/{repo}/changes/{number}/gate", { parts: place, query: { verdict: one.verdict }, signal }),
    })),
  });
  const gate = gates[VERDICTS.findIndex((one) => one.verdict === verdict)]?.data;
  const unmet = gate?.conditions.filter(({ met }) => !met) ?? [];
  return (
    <p className="mt-4 min-h-[5.5rem] rounded-md bg-well px-3 py-2" role="status">
      <span className="font-semibold">The gate after this: </span>
      {!verdict
        ? "choose a verdict, and it is said here."
        : !gate
          ? "…"
          : gate.open
            ? "met, it can be merged."
            : unmet.map(({ says }) => says).join(" ")}
    </p>
  );
}

function RemarkToSend({ note, onClose }: { note: UnsentRemark; onClose: () => void }) {
  const { view } = useChangeSet();
  const { goTo } = useAttention();
  const [editing, setEditing] = useState(false);
  const kept = useKeptNote(note, { body: note.body, weight: note.weight });
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
        <WritingField
          label="Your remark, in Markdown"
          repository={view.repository}
          focus
          text={kept.value.body}
          onText={(text) => kept.change({ body: text })}
        />
      ) : (
        <SafeMarkdown text={kept.value.body} />
      )}
      {note.suggestions.map((suggestion) => (
        <SmallDiff key={suggestion.id} was={suggestion.was} lines={suggestion.lines} />
      ))}
      {kept.problem && <p className="text-clay">{kept.problem}</p>}
    </li>
  );
}
