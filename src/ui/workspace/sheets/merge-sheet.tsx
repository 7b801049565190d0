"use client";
import { useState } from "react";
import { visible } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import type { MergeKind } from "@/core/rules/rule";
import type { ConflictView, MergePreview } from "@/core/views/keeping-view";
import { ask, reasonFrom } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { useDraft } from "../../kept/use-draft";
import { PlainField } from "../../words/plain-field";
import { SmallDiff } from "../margin/small-diff";
import { useAttention, useChangeSet, useTell } from "../state/context";
import { CameSince } from "./came-since";
import { Sheet, SheetFoot } from "./sheet";

const WAYS: Record<MergeKind, { label: string; about: (target: string) => string }> = {
  merge: { label: "A merge commit", about: () => "All commits stay as they are, joined by one more." },
  squash: { label: "One commit", about: () => "One commit of the author’s, on top of the target." },
  rebase: { label: "Commits on top", about: (target) => `Each commit again, on top of ${target}.` },
  forward: {
    label: "Move forward",
    about: (target) => `${target} moves to the newest revision; nothing new is written.`,
  },
};

/** How the change set becomes part of its target: the way, what comes of it, the message, and the deed. */
export function MergeSheet({
  open,
  onNewest,
  onClose,
}: {
  open: boolean;
  /** Shows what came after the revision that is looked at here. */
  onNewest: () => void;
  onClose: () => void;
}) {
  const { view } = useChangeSet();
  return (
    <Sheet
      title={`Merge into ${view.target}`}
      about={`In your name. The branch ${view.source} is ${view.rule.deleteSource ? "deleted afterwards" : "left as it is"}.`}
      open={open}
      onClose={onClose}
      wide
    >
      <MergeForm onNewest={onNewest} onClose={onClose} />
    </Sheet>
  );
}

function MergeForm({ onNewest, onClose }: { onNewest: () => void; onClose: () => void }) {
  const { view, command, place } = useChangeSet();
  // What is merged is what was there to be looked at: a revision that comes while this is open takes nothing over.
  const [revision] = useState(view.revisions.length);
  const outdated = revision < view.revisions.length;
  const { shown } = useAttention();
  const tell = useTell();
  const [how, setHow] = useState<MergeKind>(view.rule.merging[0]);
  // Each way has a message of its own: what was written for one waits while another is looked at.
  const written = useDraft<string | null>(`message ${view.id} ${how}`, null);
  const reason = useDraft(`passing ${view.id}`, "");
  const message = written.value;
  const passing = reason.value;
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const { data: preview, error } = useAsked({
    queryKey: ["merge", place, how, revision],
    queryFn: ({ signal }) =>
      ask("GET /api/repos/{repo}/changes/{number}/merge", {
        parts: place,
        query: { how, revision: String(revision) },
        signal,
      }),
    // What would be told now is of what came since.
    enabled: !outdated,
  });
  const { open } = view.gate;
  const mayPass = !open && view.me.pass.may;
  const text = message ?? preview?.message ?? "";
  const run = async (request: Parameters<typeof command>[0], said: string) => {
    setBusy(true);
    const refusal = await command(request);
    setBusy(false);
    if (refusal) return setProblem(refusal);
    written.forget();
    reason.forget();
    tell(said);
    onClose();
  };
  const merge = () =>
    run({ kind: "merge", revision, message: text, how, ...(open ? {} : { passing }) }, `Merged into ${view.target}.`);
  const later = () =>
    run({ kind: "merge-when-open", revision, how, message }, "It will be merged as soon as the gate opens.");
  return (
    <>
      <div className="min-h-0 flex-1 overflow-y-auto px-6 py-4">
        {outdated && (
          <CameSince onNewest={onNewest} onClose={onClose}>
            You looked at r{revision}, and r{view.revisions.length} has come since: it cannot be merged from here.
          </CameSince>
        )}
        {!outdated && shown !== null && shown < revision && (
          <CameSince onNewest={onNewest} onClose={onClose}>
            What you have open is r{shown}, and this merges r{revision}.
          </CameSince>
        )}
        {view.rule.merging.length > 1 && (
          <fieldset className="mb-4 grid gap-1">
            <legend className="text-soft">The way</legend>
            {view.rule.merging.map((kind) => (
              <label key={kind} className="flex items-baseline gap-2">
                <input type="radio" name="how" checked={how === kind} onChange={() => setHow(kind)} />
                <span className="font-semibold">{WAYS[kind].label}</span>
                <span className="text-soft">{WAYS[kind].about(view.target)}</span>
              </label>
            ))}
          </fieldset>
        )}
        {error && <p className="text-clay">{reasonFrom(error)}</p>}
        {!preview && !error && !outdated && <p className="text-soft">Trying it out …</p>}
        {preview && <Outcome preview={preview} revision={revision} />}
        {preview && preview.why === null && preview.message !== "" && (
          <div className="mt-4">
            <PlainField
              label="Message of the commit"
              name="message"
              className="min-h-44 font-mono text-[13px]"
              text={text}
              onText={written.change}
            />
          </div>
        )}
        {view.chain.notes.map((note) => (
          <p key={note} className="mt-4 rounded-md border border-l-4 border-rule border-l-clay px-3 py-2">
            {note}
          </p>
        ))}
        {!open && (
          <div className="mt-4 rounded-md border border-l-4 border-rule border-l-clay px-3 py-2">
            <p className="font-semibold">The gate is not met.</p>
            <ul className="list-disc pl-5">
              {view.gate.conditions
                .filter(({ met }) => !met)
                .map(({ id, says }) => (
                  <li key={id}>{says}</li>
                ))}
            </ul>
            {mayPass && preview?.why && (
              <p className="mt-2">
                As a keeper you could pass the gate, but not this: what is said above has to be mended first.
              </p>
            )}
            {mayPass && !preview?.why && (
              <label className="mt-2 grid gap-1">
                <span className="text-soft">As a keeper you can pass it. Why? This stays on the record.</span>
                <input
                  className="field"
                  name="passing"
                  value={passing}
                  onChange={(e) => reason.change(e.target.value)}
                />
              </label>
            )}
          </div>
        )}
      </div>
      {open || (mayPass && passing.trim() !== "") ? (
        <SheetFoot
          problem={problem}
          busy={busy || outdated || !preview || preview.why !== null}
          action={open ? `Merge r${revision}` : `Merge r${revision} past the gate`}
          doing={busy ? "Merging …" : `Merge r${revision}`}
          onAction={() => void merge()}
          onClose={onClose}
        />
      ) : (
        <SheetFoot
          problem={problem}
          busy={busy || outdated || view.mergeAsked !== null}
          action={`Merge r${revision} when the gate opens`}
          doing={busy ? "Asking …" : view.mergeAsked ? "Waits for the gate" : `Merge r${revision} when the gate opens`}
          onAction={() => void later()}
          onClose={onClose}
        />
      )}
    </>
  );
}

/** What the target would have: its newest commits as they would stand, or why it cannot be. */
function Outcome({ preview, revision }: { preview: MergePreview; revision: number }) {
  const { view } = useChangeSet();
  const shown = preview.commits.slice(0, 8);
  return (
    <section aria-label="What comes of it">
      {preview.why && <p className="whitespace-pre-line text-clay">{preview.why}</p>}
      {preview.conflicts.map((conflict) => (
        <Conflict key={conflict.path} conflict={conflict} revision={revision} />
      ))}
      {preview.commits.length > 0 && (
        <>
          <p className="text-soft">
            {view.target} afterwards, the newest first: {counted(preview.commits.length, "commit")} more
            {preview.behind > 0 && `, beside ${counted(preview.behind, "commit")} that came to it meanwhile`}.
          </p>
          <ol className="mt-1 border-l-2 border-brass">
            {shown.map((commit) => (
              <li key={commit.id} className="relative flex gap-3 py-0.5 pl-4">
                <span
                  aria-hidden
                  className={`absolute top-[9px] -left-[6px] h-2.5 w-2.5 rounded-full border-2 border-brass ${commit.made ? "bg-brass" : "bg-paper"}`}
                />
                <span className="min-w-0 flex-1 truncate">{commit.subject}</span>
                <span className="flex-none text-soft">{commit.made ? "written now" : commit.author}</span>
              </li>
            ))}
          </ol>
          {preview.commits.length > shown.length && (
            <p className="pl-4 text-soft">and {preview.commits.length - shown.length} more</p>
          )}
        </>
      )}
    </section>
  );
}

/** A file that both changed: each place with what the target made of it and what this change set did. */
function Conflict({ conflict: { path, places, why }, revision }: { conflict: ConflictView; revision: number }) {
  const { view } = useChangeSet();
  return (
    <details open className="my-2 rounded-md border border-rule px-3 py-2">
      <summary className="cursor-pointer">
        <code className="font-mono text-[12.5px]">{visible(path)}</code>{" "}
        <span className="text-soft">{why ?? counted(places.length, "place")}</span>
      </summary>
      {places.map((place) => (
        <div key={place.line} className="mt-2">
          <p className="text-[13px] text-soft">Line {place.line}</p>
          <div className="grid gap-1">
            <div className="min-w-0">
              <p className="text-[12.5px]">what {view.target} made of it</p>
              <SmallDiff was={place.base} lines={place.target} />
            </div>
            <div className="min-w-0">
              <p className="text-[12.5px]">what r{revision} makes of it</p>
              <SmallDiff was={place.base} lines={place.source} />
            </div>
          </div>
        </div>
      ))}
    </details>
  );
}
