"use client";
import { useState } from "react";
import { ask, reasonFrom } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { atEnd } from "../../focus/at-end";
import { useDraft } from "../../kept/use-draft";
import { WritingField } from "../../words/writing-field";
import { byName, useChangeSet, useTell } from "../state/context";
import { SmallDiff } from "./small-diff";

interface Words {
  title: string;
  description: string;
}

/** Title and description as they are being written, and what stood there when the writing began. */
export function useWordsDraft() {
  const { view } = useChangeSet();
  const now: Words = { title: view.title, description: view.description };
  return useDraft<Words & { was: Words }>(`words ${view.id}`, { ...now, was: now });
}

/** Title and description, to be changed in place. Who writes over the words of another sees both first. */
export function EditWords({ onDone }: { onDone: () => void }) {
  const { view, command } = useChangeSet();
  const tell = useTell();
  const draft = useWordsDraft();
  const { title, description, was } = draft.value;
  const [problem, setProblem] = useState("");
  const change = (part: Partial<Words>) => draft.change({ ...draft.value, ...part });
  const others = was.title !== view.title || was.description !== view.description;
  const save = async () => {
    if (others) return;
    const refusal = await command({ kind: "describe", title, description, was });
    if (refusal) return setProblem(refusal);
    draft.forget();
    tell("The new words are there. What they said before is kept below.");
    onDone();
  };
  const drop = () => {
    const typed = draft.value;
    draft.forget();
    onDone();
    if (typed.title !== view.title || typed.description !== view.description)
      tell("What you wrote is gone.", () => draft.change(typed));
  };
  return (
    <form
      className="mt-2 grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <input
        ref={atEnd}
        aria-label="Title"
        className="field font-serif text-[17px]"
        value={title}
        maxLength={200}
        onChange={(e) => change({ title: e.target.value })}
      />
      <WritingField
        label="Description, in Markdown"
        repository={view.repository}
        className="min-h-48"
        text={description}
        onText={(text) => change({ description: text })}
      />
      {others && (
        <div role="alert" className="rounded-md border border-l-4 border-rule border-l-clay px-3 py-2">
          <p className="font-semibold">
            {byName(view, view.describedBy) === "you" ? "You have" : `${byName(view, view.describedBy)} has`} changed it
            since you began to write.
          </p>
          <p className="mt-1 text-soft">From what is there now to what you wrote:</p>
          <SmallDiff was={linesOf(view)} lines={linesOf(draft.value)} />
          <p className="mt-2 flex flex-wrap gap-3">
            <button
              type="button"
              className="button"
              onClick={() =>
                draft.change({ title, description, was: { title: view.title, description: view.description } })
              }
            >
              Mine takes its place
            </button>
            <button type="button" className="quiet-button" onClick={drop}>
              leave what is there
            </button>
          </p>
        </div>
      )}
      {problem && (
        <p role="alert" className="text-clay">
          {problem}
        </p>
      )}
      <p className="flex gap-3">
        <button type="submit" className="button" disabled={others}>
          Save
        </button>
        <button type="button" className="quiet-button" onClick={drop}>
          cancel
        </button>
      </p>
    </form>
  );
}

/** What title and description said before, and what each change made of them. */
export function EarlierWords() {
  const { view, place } = useChangeSet();
  const [open, setOpen] = useState(false);
  const { data: wordings = [], error } = useAsked({
    queryKey: ["wordings", place, view.wordings],
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/changes/{number}/wordings", { parts: place, signal }),
    enabled: open,
  });
  if (view.wordings === 0) return null;
  const after = [...wordings.slice(1), view];
  return (
    <div className="mt-2">
      <button type="button" className="quiet-button text-[13px]" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? "hide what it said before" : "it said something else before"}
      </button>
      {open && error && <p className="text-clay">{reasonFrom(error)}</p>}
      {open && (
        <ol className="mt-1 border-l-2 border-rule pl-3 text-[13px]" aria-label="Earlier words">
          {wordings.map((wording, i) => (
            <li key={wording.until} className="mb-2">
              <p className="text-soft">Changed by {byName(view, "by" in after[i] ? after[i].by : view.describedBy)}:</p>
              <SmallDiff was={linesOf(wording)} lines={linesOf(after[i])} />
            </li>
          ))}
        </ol>
      )}
    </div>
  );
}

function linesOf({ title, description }: Words): string[] {
  return [title, "", ...description.split("\n")];
}
