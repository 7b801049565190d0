"use client";
import Link from "next/link";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { listed } from "@/core/plain/words";
import { goesOn } from "@/core/review/state";
import type { ConditionKey } from "@/core/rules/condition";
import { SureButton } from "../../parts/sure-button";
import { byName, nameIn, useChangeSet } from "../state/context";
import { useDo } from "../state/use-do";
import { Chain } from "./chain";
import { LiftRequest } from "./lift-request";
import { Retarget } from "./retarget";
import { Settled } from "./settled";

/** How the people of a condition are to it. */
const WHOSE: Partial<Record<ConditionKey, string>> = {
  approvals: "Given by",
  steward: "Agreed:",
  requests: "Asked by",
  threads: "Begun by",
  tasks: "For",
};

/** What must be true before the change set merges, who can meet what is missing, and the ways on from here. */
export function GatePanel({ onMerge }: { onMerge: () => void }) {
  const { view } = useChangeSet();
  const act = useDo();
  if (!goesOn(view)) return <Settled />;
  const name = (id: string) => byName(view, id);
  return (
    <aside aria-label="Gate">
      <h2 className="font-serif text-xl font-semibold">Gate</h2>
      <p className="text-soft">
        What must be true before this merges into <code className="font-mono text-[12.5px]">{view.target}</code>.
      </p>
      {view.rule.branches !== "" && (
        <p className="text-[13px] text-soft">
          By the{" "}
          <Link
            prefetch={false}
            className="text-slate underline underline-offset-2 hover:decoration-2"
            href={`/r/${view.repository}/rules`}
          >
            rule for {view.rule.branches}
          </Link>
          .
        </p>
      )}
      {view.rule.branches === "" && (
        <p className="mt-1 text-clay">
          There is no rule for this branch: it can merge without anyone’s approval.{" "}
          <Link
            prefetch={false}
            className="text-slate underline underline-offset-2 hover:decoration-2"
            href={`/r/${view.repository}/rules`}
          >
            The rules
          </Link>
        </p>
      )}
      <Chain />
      <ul className="mt-3 grid gap-2 text-[14px] leading-5">
        {view.gate.conditions.map((condition) => (
          <li
            key={condition.id}
            className={`rounded-md border border-l-4 bg-page px-3 py-2 ${condition.met ? "border-rule border-l-teal" : "border-rule border-l-clay"}`}
          >
            <p>
              <span className={`text-[12.5px] font-semibold ${condition.met ? "text-teal" : "text-clay"}`}>
                {condition.met ? "✓ met" : "○ not met"}
              </span>{" "}
              {condition.says}
            </p>
            {condition.people.length > 0 && (
              <p className="text-soft">
                {WHOSE[condition.key]} {listed(condition.people.map(name))}.
              </p>
            )}
            {condition.who && <p className="text-soft">{condition.who}</p>}
            {condition.key === "requests" &&
              condition.people.map((person) => <LiftRequest key={person} person={person} />)}
            {(condition.key === "approvals" || condition.key === "steward") && condition.canMeet.length > 0 && (
              <p className="mt-1 text-soft">
                Can give it: {listed(condition.canMeet.slice(0, 6).map(name))}
                {condition.canMeet.length > 6 ? ` and ${condition.canMeet.length - 6} others` : ""}.
              </p>
            )}
          </li>
        ))}
      </ul>
      {view.state === "draft" && view.me.ready.may ? (
        <p className="mt-4">
          <button
            type="button"
            className="button-main"
            onClick={() =>
              void act({
                request: { kind: "ready" },
                says: `It is ready. ${askedWords(view)}`,
                undo: { kind: "draft" },
              })
            }
          >
            It is ready: ask for reviews
          </button>
          <span className="mt-1 block text-soft">{readyWords(view)}</span>
        </p>
      ) : view.me.merge.may ? (
        <button type="button" className={view.gate.open ? "button-main mt-4" : "button mt-4"} onClick={onMerge}>
          {view.gate.open ? `Merge r${view.revisions.length} …` : "Look at the merge, or have it wait …"}
        </button>
      ) : (
        <p className="mt-4 text-soft">{view.me.merge.why}</p>
      )}
      {view.mergeFailed && (
        <p className="mt-3 rounded-md border border-l-4 border-rule border-l-clay px-3 py-2">
          {nameIn(view, view.mergeFailed.asker)} asked that it be merged by itself, and it is not any more:{" "}
          {view.mergeFailed.why}
        </p>
      )}
      {view.mergeAsked && (
        <p className="mt-3 rounded-md border border-brass bg-brass-wash px-3 py-2">
          {nameIn(view, view.mergeAsked.by)} asked that it be merged as soon as the gate opens.{" "}
          {view.me.describe.may && (
            <button
              type="button"
              className="quiet-button"
              onClick={() =>
                void act({ request: { kind: "merge-not", why: "" }, says: "It does not wait for the gate any more." })
              }
            >
              not any more
            </button>
          )}
        </p>
      )}
      <Retarget />
      {view.me.draft.may && (
        <p className="mt-6 border-t border-rule pt-3">
          <button
            type="button"
            className="quiet-button"
            onClick={() =>
              void act({
                request: { kind: "draft" },
                undo: { kind: "ready" },
                says: "It is a draft: it waits for nobody until you say that it is ready.",
              })
            }
          >
            make it a draft
          </button>
        </p>
      )}
      {view.me.withdraw.may && (
        <p className={view.me.draft.may ? "mt-1" : "mt-6 border-t border-rule pt-3"}>
          <SureButton
            warning="Withdraw it? It can be opened again."
            yes="yes, withdraw"
            onYes={() =>
              void act({
                request: { kind: "withdraw" },
                undo: { kind: "open-again" },
                says: "It is withdrawn. What was said in it stays.",
              })
            }
          >
            withdraw this change set
          </SureButton>
        </p>
      )}
    </aside>
  );
}

/** Who hears of it when a draft is said to be ready. */
function readyWords(view: ChangeView): string {
  const names = namesOfAsked(view);
  return names.length === 0
    ? "Nobody is chosen to review it yet: choose them below."
    : `${listed(names)} will be asked then.`;
}

function askedWords(view: ChangeView): string {
  const names = namesOfAsked(view);
  if (names.length === 0) return "Nobody was asked: choose below who is to review it.";
  return `${listed(names)} ${names.length === 1 ? "was" : "were"} asked.`;
}

function namesOfAsked({ asked, people }: ChangeView): string[] {
  return asked.map((one) => ("person" in one ? (people[one.person]?.fullName ?? "someone") : `every ${one.role}`));
}
