"use client";
import { useMemo } from "react";
import type { FileView } from "@/core/diff/view";
import { type ShownBlock, shownBlocks } from "@/core/reading/rendered";
import { SafeMarkdown } from "../../../markdown";

const LOOKS: Record<ShownBlock["kind"], { look: string; says: string | null }> = {
  same: { look: "border-transparent", says: null },
  added: { look: "border-teal row-added", says: "as it is now" },
  removed: { look: "border-clay row-removed", says: "as it was" },
};

/** A text in Markdown as it reads, with what changed in both states. Remarks are made on its lines: each changed part leads there. */
export function Rendered({
  view: { comparison },
  text,
  onGo,
}: {
  view: FileView;
  text: { next: string[]; old: (line: number) => string };
  onGo: (side: "old" | "new", line: number) => void;
}) {
  const blocks = useMemo(() => {
    const old = Array.from({ length: comparison.oldLines }, (_, line) => text.old(line));
    return shownBlocks(old, text.next, comparison.hunks);
  }, [comparison, text]);
  return (
    <div className="mx-auto w-full max-w-3xl px-6 py-5 font-serif text-[15.5px] leading-7">
      <p className="pb-2 font-sans text-[12.5px] text-soft">
        As it reads. What is not drawn, such as a comment or where a link leads, is seen line by line.
      </p>
      {blocks.map(({ kind, text: words, line }) => {
        const { look, says } = LOOKS[kind];
        return (
          <section key={`${kind} ${line}`} className={`border-l-4 px-4 py-1 ${look}`} aria-label={says ?? undefined}>
            {says && (
              <p className="flex items-baseline gap-3 font-sans text-[12.5px] text-soft">
                {says}
                <button
                  type="button"
                  className="quiet-button"
                  onClick={() => onGo(kind === "removed" ? "old" : "new", line + 1)}
                >
                  to line {line + 1}
                </button>
              </p>
            )}
            <SafeMarkdown text={words} />
          </section>
        );
      })}
    </div>
  );
}
