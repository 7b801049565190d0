"use client";
import { useState } from "react";
import { ask, reasonFrom } from "../asking/ask";

/** A list as it is kept: for oneself, or shared with a repository. */
interface Kept {
  name: string;
  query: string;
  shared: string | null;
}

/** Keeps what is shown as a list under a name, or lets go of it. */
export function KeepList({
  query,
  kept,
  shareable,
  onDone,
}: {
  query: string;
  kept: { id: string; name: string; shared: string | null } | null;
  shareable: readonly string[];
  onDone: () => void;
}) {
  const [name, setName] = useState("");
  const [shared, setShared] = useState("");
  const [naming, setNaming] = useState(false);
  const [problem, setProblem] = useState("");
  const [dropped, setDropped] = useState<Kept | null>(null);
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
  const keep = (list: Kept) => run(() => ask("PUT /api/lists", { body: list }));
  if (problem)
    return (
      <p role="alert" className="text-clay">
        {problem}
      </p>
    );
  if (kept && (kept.shared === null || shareable.includes(kept.shared)))
    return (
      <button
        type="button"
        className="quiet-button"
        onClick={() => {
          setDropped({ name: kept.name, query, shared: kept.shared });
          void run(() => ask("DELETE /api/lists/{id}", { parts: { id: kept.id } }));
        }}
      >
        {kept.shared === null ? "Let go of this list" : `Share this list with ${kept.shared} no longer`}
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
            void keep({ name, query, shared: shared || null });
          }}
        />
      </label>
      {shareable.length > 0 && (
        <label className="grid gap-1">
          <span className="text-soft">For</span>
          <select className="field" value={shared} onChange={(event) => setShared(event.target.value)}>
            <option value="">myself</option>
            {shareable.map((repo) => (
              <option key={repo} value={repo}>
                all of {repo}
              </option>
            ))}
          </select>
        </label>
      )}
      <button type="button" className="button" onClick={() => void keep({ name, query, shared: shared || null })}>
        Keep
      </button>
    </span>
  );
}
