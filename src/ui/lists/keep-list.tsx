"use client";
import { useState } from "react";
import { ask, reasonFrom } from "../ask";

/** Keeps what is shown as a list under a name, or lets go of it. */
export function KeepList({
  query,
  kept,
  onDone,
}: {
  query: string;
  kept: { id: string; name: string } | null;
  onDone: () => void;
}) {
  const [name, setName] = useState("");
  const [naming, setNaming] = useState(false);
  const [problem, setProblem] = useState("");
  const [dropped, setDropped] = useState<{ name: string; query: string } | null>(null);
  const run = async (deed: () => Promise<unknown>) => {
    try {
      await deed();
      setProblem("");
      setNaming(false);
      onDone();
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  const keep = (list: { name: string; query: string }) => run(() => ask("PUT /api/lists", { body: list }));
  if (problem)
    return (
      <p role="alert" className="text-clay">
        {problem}
      </p>
    );
  if (kept)
    return (
      <button
        type="button"
        className="quiet-button"
        onClick={() => {
          setDropped({ name: kept.name, query });
          void run(() => ask("DELETE /api/lists/{id}", { parts: { id: kept.id } }));
        }}
      >
        Let go of this list
      </button>
    );
  if (dropped)
    return (
      <button
        type="button"
        className="quiet-button"
        onClick={() => {
          void keep(dropped);
          setDropped(null);
        }}
      >
        “{dropped.name}” is no list any more: keep it after all
      </button>
    );
  if (!naming)
    return (
      <button type="button" className="quiet-button" onClick={() => setNaming(true)}>
        Keep as a list …
      </button>
    );
  return (
    <span className="flex items-end gap-2">
      <label className="grid gap-1">
        <span className="text-soft">Its name</span>
        <input
          className="field"
          // biome-ignore lint/a11y/noAutofocus: it was asked for by the press before
          autoFocus
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== "Enter") return;
            event.preventDefault();
            void keep({ name, query });
          }}
        />
      </label>
      <button type="button" className="button" onClick={() => void keep({ name, query })}>
        Keep
      </button>
    </span>
  );
}
