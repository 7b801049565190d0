"use client";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask } from "../../ask";
import { useChangeSet, useTell } from "../state/context";

/** The way to offer a change set to another branch; what that asks is said before. */
export function Retarget() {
  const { view, command } = useChangeSet();
  const tell = useTell();
  const [open, setOpen] = useState(false);
  const [target, setTarget] = useState("");
  const [problem, setProblem] = useState("");
  const { place } = useChangeSet();
  const { data } = useQuery({
    queryKey: ["branches", place],
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/changes/{number}/yardstick", { parts: place, signal }),
    enabled: open,
  });
  if (!view.me.retarget.may) return null;
  if (!open)
    return (
      <p className="mt-6 border-t border-rule pt-3">
        <button type="button" className="quiet-button" onClick={() => setOpen(true)}>
          offer it to another branch …
        </button>
      </p>
    );
  const branches = (data?.names ?? []).filter(({ kind, name }) => kind === "branch" && name !== view.target);
  return (
    <form
      className="mt-6 grid gap-1 border-t border-rule pt-3"
      onSubmit={async (event) => {
        event.preventDefault();
        const refusal = await command({ kind: "retarget", target });
        if (refusal) return setProblem(refusal);
        setOpen(false);
        tell(`It is offered to ${target} now, by the rules of that branch.`);
      }}
    >
      <label className="grid gap-0.5 text-[13px] text-soft">
        The branch that it is to merge into
        <select
          // biome-ignore lint/a11y/noAutofocus: it was just asked for
          autoFocus
          className="field text-ink"
          name="target"
          value={target}
          onChange={(event) => setTarget(event.target.value)}
        >
          <option value="">choose one</option>
          {branches.map(({ name }) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
      <p className="text-[13px] text-soft">
        The rules of that branch count then. What was approved for {view.target} has to be approved again, unless its
        rule lets approvals stay.
      </p>
      {problem && (
        <p role="alert" className="text-[13px] text-clay">
          {problem}
        </p>
      )}
      <p className="flex gap-3">
        <button type="submit" className="button text-[13px]" disabled={target === ""}>
          Offer it there
        </button>
        <button type="button" className="quiet-button text-[13px]" onClick={() => setOpen(false)}>
          leave it
        </button>
      </p>
    </form>
  );
}
