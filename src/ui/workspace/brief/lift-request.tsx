"use client";
import { atEnd } from "../../focus/at-end";
import { useDraft } from "../../kept/use-draft";
import { nameIn, useChangeSet, useTell } from "../state/context";
import { SmallForm } from "./small-form";

/** The way to end a request for changes that no longer stands: its writer takes it back, a keeper lifts it and says why. */
export function LiftRequest({ person }: { person: string }) {
  const { view, command } = useChangeSet();
  const tell = useTell();
  const reason = useDraft(`lift ${view.id} ${person}`, "");
  const mine = person === view.me.id;
  if (!mine && !view.me.lift.may) return null;
  const lift = async () => {
    const refusal = await command({ kind: "lift", person, reason: reason.value });
    if (refusal) return refusal;
    reason.forget();
    tell(
      mine
        ? "Your request for changes is taken back."
        : "The request for changes is lifted; the reason is on the record.",
    );
    return null;
  };
  return (
    <SmallForm
      opener={mine ? "take my request back" : `lift the request of ${nameIn(view, person)}`}
      action={mine ? "Take it back" : "Lift it"}
      onSend={lift}
    >
      <label className="grid gap-0.5 text-[13px] text-soft">
        {mine ? "A word about it, if you like" : "Why it no longer stands: this stays on the record"}
        <input
          ref={atEnd}
          className="field"
          name="reason"
          value={reason.value}
          onChange={(event) => reason.change(event.target.value)}
        />
      </label>
    </SmallForm>
  );
}
