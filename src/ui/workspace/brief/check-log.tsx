"use client";
import { useState } from "react";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { checksOf } from "@/core/rules/checks";
import type { LogView } from "@/core/views/keeping-view";
import { ask, reasonFrom } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { When } from "../../parts/when";
import { useChangeSet } from "../state/context";

/** How often one looks while a check runs, in milliseconds. */
const EVERY = 2_000;

const placeOf = (view: ChangeView) => ({ repo: view.repository, number: String(view.number) });

/** What the checks of the newest revision write; looked at again and again while one of them runs. */
export function useLogs(view: ChangeView): LogView[] | undefined {
  const checks = checksOf(view);
  const goes = checks.some(({ state }) => state === "waiting" || state === "running");
  const { data } = useAsked({
    queryKey: ["logs", placeOf(view), ...checks.map(({ name, state }) => `${state} ${name}`)],
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/changes/{number}/logs", { parts: placeOf(view), signal }),
    enabled: checks.length > 0,
    placeholderData: (before) => before,
    refetchInterval: goes ? EVERY : false,
  });
  return data;
}

/** How far a check is and what it wrote last; the end of its log, when it is opened. */
export function Log({ log, goes }: { log: LogView; goes: boolean }) {
  const { view } = useChangeSet();
  const { name, by, part, at, last } = log;
  const [open, setOpen] = useState(false);
  const { data, error } = useAsked({
    queryKey: ["log", placeOf(view), name, by, at],
    queryFn: ({ signal }) =>
      ask("GET /api/repos/{repo}/changes/{number}/log", { parts: placeOf(view), query: { check: name, by }, signal }),
    enabled: open,
    placeholderData: (before) => before,
  });
  return (
    <>
      {goes && part !== null && (
        <div
          role="progressbar"
          aria-label={`How far ${name} is`}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(part * 100)}
          className="my-1 h-1.5 overflow-hidden rounded-full bg-rule"
        >
          <div className="h-full bg-brass" style={{ width: `${Math.round(part * 100)}%` }} />
        </div>
      )}
      <details className="text-[13px]" onToggle={(event) => setOpen(event.currentTarget.open)}>
        <summary className="cursor-pointer truncate text-slate">
          {goes && last !== "" ? <span className="font-mono text-[12px] text-soft">{last}</span> : "show its log"}
        </summary>
        {error && (
          <p role="alert" className="text-clay">
            {reasonFrom(error)}
          </p>
        )}
        {data && (
          <pre
            // biome-ignore lint/a11y/noNoninteractiveTabindex: what is scrolled is scrolled by keys, too
            tabIndex={0}
            className="mt-1 max-h-72 overflow-auto rounded border border-rule bg-page p-2 font-mono text-[12px] leading-snug [unicode-bidi:isolate]"
          >
            {data.tail === "" ? "It has written nothing yet." : data.tail}
          </pre>
        )}
        <p className="text-soft">
          written <When at={at} />
        </p>
      </details>
    </>
  );
}
