"use client";
import { useMemo } from "react";
import { isComment, type ShownBlock, shownBlocks } from "@/core/reading/forms/prose";
import { SafeMarkdown } from "../../../parts/markdown";
import type { Drawable } from "./drawable";

const LOOKS: Record<ShownBlock["kind"], { look: string; says: string | null }> = {
  same: { look: "border-transparent", says: null },
  added: { look: "border-teal row-added", says: "as it is now" },
  removed: { look: "border-clay row-removed", says: "as it was" },
};

/** A text in Markdown as it reads, with what changed in both states. Remarks are made on its lines: each changed part leads there. */
export function Prose({ old, next, hunks, onGo }: Drawable) {
  const blocks = useMemo(() => shownBlocks(old, next, hunks), [old, next, hunks]);
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
            {isComment(words) ? (
              says && <p className="text-soft">A comment: not drawn.</p>
            ) : (
              <SafeMarkdown text={words} />
            )}
          </section>
        );
      })}
    </div>
  );
}
