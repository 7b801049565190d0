"use client";
import { useQueryClient } from "@tanstack/react-query";
import { ask, reasonFrom } from "../../asking/ask";
import { SureButton } from "../../parts/sure-button";
import { When } from "../../parts/when";
import { byName, nameIn, useChangeSet, useTell } from "../state/context";

/** How a change set ended, and what can still be done about it. */
export function Settled() {
  const { view, command } = useChangeSet();
  const tell = useTell();
  const takeBack = async () => {
    try {
      const parts = { repo: view.repository, number: String(view.number) };
      const { number } = await ask("POST /api/repos/{repo}/changes/{number}/revert", { parts });
      window.location.assign(`/r/${view.repository}/c/${number}`);
    } catch (error) {
      tell(reasonFrom(error));
    }
  };
  const openAgain = async () => {
    const refusal = await command({ kind: "open-again" });
    tell(refusal ?? "It is open again.");
  };
  return (
    <aside aria-label="How it ended">
      <h2 className="font-serif text-xl font-semibold">{view.state === "merged" ? "Merged" : "Withdrawn"}</h2>
      {view.settled && (
        <p className="mt-1 text-soft">
          By {byName(view, view.settled.by)}, <When at={view.settled.at} />.
        </p>
      )}
      {view.settled?.commit && (
        <p className="mt-2">
          As commit <code className="font-mono text-[12px] break-all">{view.settled.commit}</code> on{" "}
          <code className="font-mono text-[12px]">{view.target}</code>.
        </p>
      )}
      {view.settled?.passing && (
        <p className="mt-2 rounded-md border border-l-4 border-rule border-l-clay px-3 py-2">
          The gate was not met. {nameIn(view, view.settled.by)} passed it: {view.settled.passing}
        </p>
      )}
      {view.state === "merged" && view.me.role !== "reader" && (
        <p className="mt-3">
          <SureButton
            look="button"
            warning="This makes a branch that undoes it, and a change set that offers that."
            yes="yes, make them"
            onYes={() => void takeBack()}
          >
            Take it back …
          </SureButton>
        </p>
      )}
      <LeftBranch />
      {view.me.openAgain.may && (
        <button type="button" className="button mt-3" onClick={() => void openAgain()}>
          Open it again
        </button>
      )}
    </aside>
  );
}

/** The branch of a settled change set, where it is still there: it can go. */
function LeftBranch() {
  const { view, place } = useChangeSet();
  const tell = useTell();
  const client = useQueryClient();
  const mine = view.author === view.me.id || view.me.role === "keeper";
  if (!view.branchLeft || !mine) return null;
  const remove = async () => {
    try {
      await ask("DELETE /api/repos/{repo}/changes/{number}/source", { parts: place });
      tell(`The branch ${view.source} is gone. Its commits are kept with the change set.`);
      void client.invalidateQueries({ queryKey: ["change", view.id] });
    } catch (error) {
      tell(reasonFrom(error));
    }
  };
  return (
    <p className="mt-3">
      Its branch <code className="font-mono text-[12px]">{view.source}</code> is still there.{" "}
      <button type="button" className="quiet-button" onClick={() => void remove()}>
        remove it
      </button>
    </p>
  );
}
