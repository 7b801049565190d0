"use client";
import { visible } from "@/core/cautions/visible";
import { type ChangeState, goesOn } from "@/core/review/state";
import { Key } from "../parts/key";
import { byName, useChangeSet } from "./state/context";

/** What the change set is called, where it goes, and how it stands. */
export function Header({
  onGate,
  onFold,
}: {
  onGate: () => void /** Null where it stays open. */;
  onFold: (() => void) | null;
}) {
  const { view } = useChangeSet();
  const { conditions } = view.gate;
  const unmet = conditions.filter(({ met }) => !met);
  return (
    <section
      aria-label="The change set"
      className="flex flex-none items-start justify-between gap-8 border-b border-rule bg-page px-4 py-2.5 max-[700px]:flex-col max-[700px]:gap-1"
    >
      <div className="min-w-0">
        <h1
          className="truncate font-serif text-[21px] font-semibold max-[700px]:whitespace-normal max-[700px]:text-[18px]"
          title={view.title}
        >
          {view.title}
        </h1>
        <p className="truncate text-soft max-[700px]:whitespace-normal">
          <State state={view.state} /> · by {byName(view, view.author)} ·{" "}
          <code className="font-mono text-[12.5px]">{visible(view.source)}</code> into{" "}
          <code className="font-mono text-[12.5px]">{visible(view.target)}</code>
          {onFold && (
            <button type="button" className="quiet-button ml-3" aria-expanded={true} onClick={onFold}>
              fold <Key>⇧B</Key>
            </button>
          )}
        </p>
      </div>
      {goesOn(view) ? (
        <button
          type="button"
          onClick={onGate}
          className="flex-none rounded px-1 text-right hover:bg-brass-wash max-[700px]:text-left"
          title="To the brief, where the gate is"
        >
          <span className="flex items-center justify-end gap-2 font-semibold max-[700px]:justify-start">
            <span aria-hidden className="flex gap-1">
              {conditions.map(({ id, met }) => (
                <span
                  key={id}
                  className={`h-2 w-3.5 rounded-sm border ${met ? "border-teal bg-teal" : "border-clay"}`}
                />
              ))}
            </span>
            {unmet.length === 0
              ? "The gate is met"
              : `${conditions.length - unmet.length} of ${conditions.length} conditions met`}
          </span>
          <span className="block text-soft">
            {unmet.length === 0 ? (view.me.merge.may ? "you can merge it" : "it can be merged") : unmet[0].says}
          </span>
        </button>
      ) : (
        <p className="flex-none text-right font-semibold">
          {view.state === "merged" ? "Merged" : "Withdrawn"} by{" "}
          {view.settled ? byName(view, view.settled.by) : "someone"}
          {view.settled?.commit && (
            <code className="block font-mono text-[12px] font-normal text-soft">
              {view.settled.commit.slice(0, 12)}
            </code>
          )}
        </p>
      )}
    </section>
  );
}

/** How the gate stands, in a line. */
export function GateSigns({ onGate }: { onGate: () => void }) {
  const { view } = useChangeSet();
  const { conditions } = view.gate;
  const met = conditions.filter((one) => one.met).length;
  const first = conditions.find((one) => !one.met)?.says;
  if (!goesOn(view))
    return <span className="flex-none font-semibold">{view.state === "merged" ? "Merged" : "Withdrawn"}</span>;
  return (
    <button
      type="button"
      onClick={onGate}
      className="flex flex-none items-center gap-2 rounded px-1 font-semibold hover:bg-brass-wash"
      title={first ?? "To the brief, where the gate is"}
    >
      <span aria-hidden className="flex gap-0.5">
        {conditions.map((one) => (
          <span
            key={one.id}
            className={`h-2 w-2 rounded-sm border ${one.met ? "border-teal bg-teal" : "border-clay"}`}
          />
        ))}
      </span>
      {met === conditions.length ? "The gate is met" : `${met} of ${conditions.length} conditions met`}
      <span className="sr-only">{first}</span>
    </button>
  );
}

function State({ state }: { state: ChangeState }) {
  const look = { draft: "text-soft", open: "text-brass", merged: "text-teal", withdrawn: "text-clay" }[state];
  return <span className={`font-semibold ${look}`}>{state}</span>;
}
