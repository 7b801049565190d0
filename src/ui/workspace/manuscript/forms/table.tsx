"use client";
import { useMemo } from "react";
import { visible } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import { type Cell, type TableRow, tableForm } from "@/core/reading/forms/table";
import type { Drawable } from "./drawable";
import { Untold } from "./untold";

const ROWS: Record<Exclude<TableRow["kind"], "same">, { sign: string; says: string; look: string }> = {
  changed: { sign: "±", says: "changed", look: "" },
  added: { sign: "+", says: "new", look: "row-added" },
  removed: { sign: "−", says: "gone", look: "row-removed" },
  written: { sign: "≈", says: "the same, written in another way", look: "" },
};

/** So many rows are drawn at once. */
const MOST = 1_000;

/** A table of values by its cells: those that differ as they were and as they are. */
export function Table({ path, old, next, onGo }: Drawable) {
  const form = useMemo(() => tableForm(path, old.join("\n"), next.join("\n")), [path, old, next]);
  if (typeof form === "string") return <Untold words={form} />;
  const { columns, rows, reordered } = form;
  return (
    <div className="px-6 py-5 font-sans">
      <p className="pb-3 text-soft">
        Cell by cell; a row leads to its line.
        {rows.length > MOST && ` The first ${MOST} are listed: the rest is seen line by line.`}
        {reordered && " The columns stand in another order than before."}
      </p>
      <table className="border-collapse text-[13px]">
        <thead>
          <tr>
            <th className="sr-only">What it is, and its line</th>
            {columns.map(({ name, mark }) => (
              <th
                key={name}
                scope="col"
                className={`border border-rule px-3 py-1 text-left font-semibold ${mark === "same" ? "bg-well" : mark === "added" ? "row-added" : "row-removed line-through"}`}
              >
                {visible(name)}
                {mark !== "same" && <span className="sr-only"> ({mark})</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, MOST).map((row, at) =>
            row.kind === "same" ? (
              // biome-ignore lint/suspicious/noArrayIndexKey: what is the same has no name
              <tr key={at}>
                <td />
                <td colSpan={columns.length} className="px-3 py-1 text-soft">
                  {counted(row.count, "row")} without a difference
                </td>
              </tr>
            ) : (
              <tr key={`${row.old} ${row.next}`} className={ROWS[row.kind].look}>
                <th scope="row" className="whitespace-nowrap pr-3 text-right font-normal">
                  <button
                    type="button"
                    className="quiet-button"
                    title={`${ROWS[row.kind].says}: to its line`}
                    onClick={() => onGo(row.next === null ? "old" : "new", (row.next ?? row.old ?? 0) + 1)}
                  >
                    <span aria-hidden>{ROWS[row.kind].sign}</span>
                    <span className="sr-only">{ROWS[row.kind].says}, line</span> {(row.next ?? row.old ?? 0) + 1}
                  </button>
                </th>
                {row.cells.map((cell, i) => (
                  <td key={columns[i].name} className="border border-rule px-3 py-1 align-top">
                    <Value cell={cell} apart={row.kind === "changed"} />
                  </td>
                ))}
              </tr>
            ),
          )}
        </tbody>
      </table>
    </div>
  );
}

/** One value, or what it was and is where the two differ. */
function Value({ cell: { before, after }, apart }: { cell: Cell; apart: boolean }) {
  if (!apart || (before ?? "") === (after ?? "")) return <>{shown(after ?? before ?? "")}</>;
  return (
    <>
      {before !== null && before !== "" && <del className="row-removed mr-2 px-0.5">{shown(before)}</del>}
      {after !== null && after !== "" && <ins className="row-added px-0.5 no-underline">{shown(after)}</ins>}
    </>
  );
}

/** White space that would not be seen is written out. */
function shown(value: string): string {
  return visible(value)
    .replace(/^ +| +$/g, (spaces) => "␣".repeat(spaces.length))
    .replace(/\n/g, "⏎")
    .replace(/\t/g, "⇥");
}
