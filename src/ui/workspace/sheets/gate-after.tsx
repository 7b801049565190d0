"use client";
import { useQueries } from "@tanstack/react-query";
import type { Verdict } from "@/core/review/shapes";
import type { Unsent } from "@/core/views/api";
import { ask } from "../../asking/ask";
import { useChangeSet } from "../state/context";

const VERDICTS: Verdict[] = ["approve", "request-changes", "none"];

/**
 * What the gate will say once this is sent. It is asked for every verdict as soon as the sheet opens, and has its room from the beginning, so
 * that nothing moves under the pointer when one is chosen.
 */
export function GateAfter({ verdict, notes }: { verdict: Verdict | null; notes: Unsent[] }) {
  const { view } = useChangeSet();
  const place = { repo: view.repository, number: String(view.number) };
  // Asked again when something was said meanwhile, or what is to be sent changed.
  const state = `${view.changedAt} ${notes.map(({ id, changedAt }) => `${id} ${changedAt}`).join()}`;
  const gates = useQueries({
    queries: VERDICTS.map((one) => ({
      queryKey: ["gate after", place, one, state],
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        ask("GET /api/repos/{repo}/changes/{number}/gate", { parts: place, query: { verdict: one }, signal }),
    })),
  });
  const gate = gates[verdict === null ? -1 : VERDICTS.indexOf(verdict)]?.data;
  const unmet = gate?.conditions.filter(({ met }) => !met) ?? [];
  return (
    <p className="mt-4 min-h-[5.5rem] rounded-md bg-well px-3 py-2" role="status">
      <span className="font-semibold">The gate after this: </span>
      {!verdict
        ? "choose a verdict, and it is said here."
        : !gate
          ? "…"
          : gate.open
            ? "met, it can be merged."
            : unmet.map(({ says }) => says).join(" ")}
    </p>
  );
}
