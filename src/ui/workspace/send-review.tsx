"use client";
import { useMemo, useState } from "react";
import { anchorPlace } from "@/core/anchor/anchor";
import type { Verdict } from "@/core/review/events";
import { counted } from "@/core/words";
import { SafeMarkdown } from "../markdown";
import { newId } from "../new-id";
import { useWorkspace } from "./context";
import { useKeptText } from "./note-card";
import { Sheet, SheetFoot } from "./sheet";

const VERDICTS: { verdict: Verdict; label: string; about: string }[] = [
  { verdict: "approve", label: "Approve", about: "It can go in as it is." },
  { verdict: "request-changes", label: "Request changes", about: "It must not merge before this is answered." },
  { verdict: "none", label: "No verdict", about: "Only the remarks." },
];

/** Everything that is about to be sent, the closing word and the verdict. It goes out as one. */
export function SendReview({ open, revision, onClose }: { open: boolean; revision: number; onClose: () => void }) {
  return (
    <Sheet
      title="Send the review"
      about={`Of r${revision}. The author gets the remarks, the closing word and the verdict at once.`}
      open={open}
      onClose={onClose}
      wide
    >
      <SendForm revision={revision} onClose={onClose} />
    </Sheet>
  );
}

function SendForm({ revision, onClose }: { revision: number; onClose: () => void }) {
  const { view, command, saveNote, dropNote, goTo, tell } = useWorkspace();
  const closing = view.unsent.find(({ anchor }) => anchor === null);
  const closingId = useMemo(() => closing?.id ?? newId(), [closing?.id]);
  const kept = useKeptText(closing?.body ?? "", (body, leaving) =>
    saveNote({ id: closingId, anchor: null }, body, leaving),
  );
  const [verdict, setVerdict] = useState<Verdict | null>(view.me.verdict.may ? null : "none");
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const remarks = view.unsent.filter(({ anchor, body }) => anchor && body.trim() !== "");
  const send = async () => {
    if (!verdict) return setProblem("Choose a verdict first.");
    setBusy(true);
    kept.cancel();
    const refusal = await command({ kind: "send-review", revision, verdict, remark: kept.text });
    setBusy(false);
    if (refusal) return setProblem(refusal);
    tell(
      `Sent: ${counted(remarks.length, "remark")}${verdict === "none" ? "" : verdict === "approve" ? " and your approval" : " and your request for changes"}.`,
    );
    onClose();
  };
  return (
    <>
      <div className="min-h-0 flex-1 overflow-y-auto px-6 py-4">
        {remarks.length === 0 ? (
          <p className="text-soft">No remarks are waiting to be sent.</p>
        ) : (
          <ul className="grid gap-2" aria-label="Remarks to be sent">
            {remarks.map((note) => (
              <li key={note.id} className="rounded-md border border-dashed border-brass px-3 py-2">
                <p className="flex gap-3 text-[13px] text-soft">
                  <span className="min-w-0 flex-1 truncate">
                    <span className="font-mono text-[12px]">{note.anchor?.path}</span>,{" "}
                    {note.anchor && anchorPlace(note.anchor)}
                  </span>
                  <button
                    type="button"
                    className="quiet-button"
                    onClick={() => {
                      if (note.anchor) goTo(note.anchor, null);
                      onClose();
                    }}
                  >
                    go there
                  </button>
                  <button type="button" className="quiet-button" onClick={() => dropNote(note)}>
                    delete
                  </button>
                </p>
                <SafeMarkdown text={note.body} />
              </li>
            ))}
          </ul>
        )}
        <label className="mt-4 grid gap-1">
          <span className="flex justify-between text-soft">
            Closing word, in Markdown <span className="text-[12px] text-faint">{kept.problem || kept.state}</span>
          </span>
          <textarea
            name="closing"
            className="field min-h-20"
            value={kept.text}
            onChange={(e) => kept.type(e.target.value)}
          />
        </label>
        <fieldset className="mt-4">
          <legend className="text-soft">Verdict</legend>
          <div className="mt-1 grid grid-cols-3 gap-2">
            {VERDICTS.map((choice) => {
              const allowed = choice.verdict === "none" || view.me.verdict.may;
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
                      setVerdict(choice.verdict);
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
      </div>
      <SheetFoot problem={problem} busy={busy} deed="Send" doing="Sending …" onDeed={send} onClose={onClose} />
    </>
  );
}
