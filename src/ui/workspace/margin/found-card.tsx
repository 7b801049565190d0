"use client";
import { visibleWords } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import type { FoundFold } from "./use-entries";

const LEVELS = { error: "✗ error", warning: "! warning", note: "· note" };

/** What a check found: several in one line until they are opened, one by itself with its words. */
export function FoundCard({ fold: { check, tool, findings }, onOpen }: { fold: FoundFold; onOpen: () => void }) {
  const [first] = findings;
  // A report of lines names no tool.
  const by = tool || check;
  const errors = findings.filter(({ level }) => level === "error").length;
  return (
    <article
      aria-label={`Found by ${by}`}
      className="rounded-md border border-l-4 border-rule border-l-ochre bg-paper px-3 py-1.5 text-[14px]"
    >
      {findings.length > 1 ? (
        <button
          type="button"
          className="flex w-full items-center gap-2 text-left"
          aria-expanded={false}
          onClick={onOpen}
        >
          <span className="font-semibold">{visibleWords(by)}</span>
          <span className="rounded bg-well px-1 text-[11px] text-soft">check</span>
          <span className="flex-1 text-soft">
            {counted(findings.length, "finding")}
            {errors > 0 && `, ${counted(errors, "error")}`}
          </span>
          <span className="text-slate">open</span>
        </button>
      ) : (
        <>
          <p className="flex items-baseline justify-between gap-2 text-[12.5px] text-soft">
            <span>
              {LEVELS[first.level]} · line {first.line}
            </span>
            <span>{visibleWords(by === check ? check : `${check} · ${by}`)}</span>
          </p>
          <p className="font-semibold break-words">{visibleWords(first.name)}</p>
          <p className="line-clamp-6 break-words whitespace-pre-line">{visibleWords(first.message)}</p>
        </>
      )}
    </article>
  );
}
