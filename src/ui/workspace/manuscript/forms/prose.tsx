"use client";
import { useMemo } from "react";
import { visible } from "@/core/cautions/visible";
import {
  definitionsFor,
  definitionsIn,
  definitionsOf,
  isComment,
  type ShownBlock,
  shownBlocks,
} from "@/core/reading/forms/prose";
import { SafeMarkdown } from "../../../parts/markdown";
import type { Drawable } from "./drawable";

const LOOKS: Record<ShownBlock["kind"], { look: string; says: string | null }> = {
  same: { look: "border-transparent", says: null },
  added: { look: "border-teal row-added", says: "as it is now" },
  removed: { look: "border-clay row-removed", says: "as it was" },
};

/** A text in Markdown as it reads, with what changed in both states. Remarks are made on its lines: each changed part leads there. */
export function Prose({ old, next, hunks, onGo }: Drawable) {
  const blocks = useMemo(() => {
    const [before, after] = [definitionsIn(old), definitionsIn(next)];
    return shownBlocks(old, next, hunks).map((block) => {
      return { ...block, definitions: definitionsFor(block.text, block.kind === "removed" ? before : after) };
    });
  }, [old, next, hunks]);
  return (
    <div className="mx-auto w-full max-w-3xl px-6 py-5 font-serif text-[15.5px] leading-7">
      <p className="pb-2 font-sans text-[12.5px] text-soft">
        As it reads. What is not drawn, such as a comment or where a link leads, is seen line by line.
      </p>
      {blocks.map(({ kind, text: words, line, definitions }) => {
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
            {says && <Definitions block={words} />}
            {isComment(words) ? (
              says && <p className="text-soft">A comment: not drawn.</p>
            ) : (
              <SafeMarkdown text={words} definitions={definitions} />
            )}
          </section>
        );
      })}
    </div>
  );
}

/** Where links lead that stand elsewhere in the text: of a definition itself nothing is drawn. */
function Definitions({ block }: { block: string }) {
  const definitions = definitionsOf(block);
  if (definitions.length === 0) return null;
  return (
    <ul className="break-words font-sans text-[13px] text-soft">
      {definitions.map(({ label, leadsTo }, n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the same may stand there twice
        <li key={n}>
          Links to <span className="font-semibold">{visible(label)}</span> lead to{" "}
          <code className="font-mono text-[12.5px]">{visible(leadsTo)}</code>
        </li>
      ))}
    </ul>
  );
}
