"use client";
import { counted } from "@/core/plain/words";
import { byName, nameIn, useChangeSet } from "../state/context";
import type { MachineFold } from "./use-entries";

/** The remarks of a machine, as one line that says how many there are. */
export function MachineCard({ fold: { by, threads }, onOpen }: { fold: MachineFold; onOpen: () => void }) {
  const { view } = useChangeSet();
  const settle = threads.filter(({ resolved, weight }) => resolved === null && weight === "settle").length;
  return (
    <article
      aria-label={`Remarks by ${byName(view, by)}`}
      className="rounded-md border border-l-4 border-rule border-l-ochre bg-paper px-3 py-1.5 text-[14px]"
    >
      <button type="button" className="flex w-full items-center gap-2 text-left" aria-expanded={false} onClick={onOpen}>
        <span className="font-semibold">{nameIn(view, by)}</span>
        <span className="rounded bg-well px-1 text-[11px] text-soft">machine</span>
        <span className="flex-1 text-soft">
          {counted(threads.length, "remark")}
          {settle > 0 && `, ${settle} to settle`}
        </span>
        <span className="text-slate">open</span>
      </button>
    </article>
  );
}
