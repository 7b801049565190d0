"use client";
import { useState } from "react";
import { nameIn, useChangeSet, useTell } from "../state/context";

/** The way to end a request for changes that no longer stands: its writer takes it back, a keeper lifts it and says why. */
export function LiftRequest({ person }: { person: string }) {
  const { view, command } = useChangeSet();
  const tell = useTell();
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const [problem, setProblem] = useState("");
  const mine = person === view.me.id;
  // What was asked of one's own work is for another keeper to lift.
  const own = view.author === view.me.id || view.revisions.at(-1)?.pusher === view.me.id;
  if (!mine && (view.me.role !== "keeper" || own)) return null;
  const lift = async () => {
    const refusal = await command({ kind: "lift", person, reason });
    if (refusal) return setProblem(refusal);
    setOpen(false);
    tell(
      mine
        ? "Your request for changes is taken back."
        : "The request for changes is lifted; the reason is on the record.",
    );
  };
  if (!open) {
    return (
      <button type="button" className="quiet-button text-[13px]" onClick={() => setOpen(true)}>
        {mine ? "take my request back" : `lift the request of ${nameIn(view, person)}`}
      </button>
    );
  }
  return (
    <form
      className="mt-1 grid gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        void lift();
      }}
    >
      <label className="grid gap-0.5 text-[13px] text-soft">
        {mine ? "A word about it, if you like" : "Why it no longer stands: this stays on the record"}
        <input
          // biome-ignore lint/a11y/noAutofocus: it was just asked for
          autoFocus
          className="field"
          name="reason"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
      {problem && (
        <p role="alert" className="text-[13px] text-clay">
          {problem}
        </p>
      )}
      <p className="flex gap-3">
        <button type="submit" className="button text-[13px]">
          {mine ? "Take it back" : "Lift it"}
        </button>
        <button type="button" className="quiet-button text-[13px]" onClick={() => setOpen(false)}>
          leave it
        </button>
      </p>
    </form>
  );
}
