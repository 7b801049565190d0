"use client";
import { useState } from "react";
import { useChangeSet } from "../state/context";

/** Title and description, to be changed in place. */
export function EditWords({ onDone }: { onDone: () => void }) {
  const { view, command } = useChangeSet();
  const [title, setTitle] = useState(view.title);
  const [description, setDescription] = useState(view.description);
  const [problem, setProblem] = useState("");
  const save = async () => {
    const refusal = await command({ kind: "describe", title, description });
    if (refusal) setProblem(refusal);
    else onDone();
  };
  return (
    <div className="mt-2 grid gap-2">
      <input
        aria-label="Title"
        className="field font-serif text-[17px]"
        value={title}
        maxLength={200}
        onChange={(e) => setTitle(e.target.value)}
      />
      <textarea
        aria-label="Description, in Markdown"
        className="field min-h-48 font-mono text-[13px]"
        value={description}
        onChange={(e) => setDescription(e.target.value)}
      />
      {problem && (
        <p role="alert" className="text-clay">
          {problem}
        </p>
      )}
      <p className="flex gap-3">
        <button type="button" className="button" onClick={save}>
          Save
        </button>
        <button type="button" className="quiet-button" onClick={onDone}>
          cancel
        </button>
      </p>
    </div>
  );
}
