"use client";
import { useMemo } from "react";
import { visible } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import { type DataChange, dataChanges } from "@/core/reading/forms/data";
import { CodeText } from "../rows/code-text";
import type { Drawable } from "./drawable";
import { Untold } from "./untold";

const MOST = 1_000;
const SAYS: Record<DataChange["mark"], string> = {
  added: "new",
  removed: "gone",
  changed: "changed",
  order: "its keys stand in another order, which means nothing to most who read it",
};

/** A document of data by the ways to its values. */
export function Data({ old, next, onGo }: Drawable) {
  const changes = useMemo(() => dataChanges(old.join("\n"), next.join("\n")), [old, next]);
  if (typeof changes === "string") return <Untold words={changes} />;
  return (
    <div className="px-6 py-5 font-sans">
      <p className="pb-3 text-soft">
        {changes.length === 0 ? "No value differs" : counted(changes.length, "difference")}, whatever the order of keys
        and the layout. Comments are seen line by line.
        {changes.length > MOST && ` The first ${MOST} are listed.`}
      </p>
      <ul className="divide-y divide-rule">
        {changes.slice(0, MOST).map(({ path, mark, before, after, side, line }) => (
          <li key={`${mark} ${side} ${path.join("\0")}`} className="py-2">
            <p className="flex flex-wrap items-baseline gap-x-3">
              <span className="font-mono text-[12.5px] font-semibold">
                {path.length > 0 ? path.map(visible).join(" › ") : "the whole of it"}
              </span>
              <span className="text-[13px] text-soft">{SAYS[mark]}</span>
              <button type="button" className="quiet-button text-[13px]" onClick={() => onGo(side, line + 1)}>
                to line {line + 1}
              </button>
            </p>
            {before !== null && <Written sign="−" says="as it was" text={before} look="row-removed" />}
            {after !== null && <Written sign="+" says="as it is now" text={after} look="row-added" />}
          </li>
        ))}
      </ul>
    </div>
  );
}

function Written({ sign, says, text, look }: { sign: string; says: string; text: string; look: string }) {
  return (
    <pre
      className={`mt-1 flex max-h-60 max-w-full overflow-auto rounded px-2 font-mono text-[12.5px] leading-5 ${look}`}
    >
      <span className="w-5 flex-none" aria-hidden>
        {sign}
      </span>
      <span className="sr-only">{says}: </span>
      <code className="code-line">
        <CodeText text={visible(text)} whole={false} />
      </code>
    </pre>
  );
}
