"use client";
import { useState } from "react";
import { ask } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { atEnd } from "../../focus/at-end";
import { useChangeSet, useTell } from "../state/context";
import { SmallForm } from "./small-form";

/** The way to offer a change set to another branch; what that asks is said before. */
export function Retarget() {
  const { view, command, place } = useChangeSet();
  const tell = useTell();
  const [asked, setAsked] = useState(false);
  const [target, setTarget] = useState("");
  const { data } = useAsked({
    queryKey: ["branches", place],
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/changes/{number}/yardstick", { parts: place, signal }),
    enabled: asked,
  });
  if (!view.me.retarget.may) return null;
  const branches = (data?.names ?? []).filter(({ kind, name }) => kind === "branch" && name !== view.target);
  return (
    <SmallForm
      opener="offer it to another branch …"
      look="mt-6 border-t border-rule pt-3"
      action="Offer it there"
      ready={target !== ""}
      onOpen={() => setAsked(true)}
      onSend={async () => {
        const refusal = await command({ kind: "retarget", target });
        if (!refusal) tell(`It is offered to ${target} now, by the rules of that branch.`);
        return refusal;
      }}
    >
      <label className="grid gap-0.5 text-[13px] text-soft">
        The branch that it is to merge into
        <select
          ref={atEnd}
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
    </SmallForm>
  );
}
