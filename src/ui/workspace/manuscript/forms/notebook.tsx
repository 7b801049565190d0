"use client";
import { useMemo } from "react";
import { visible } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import { type CellOutput, differing, type NotebookCell, notebookParts } from "@/core/reading/forms/notebook";
import { SafeMarkdown } from "../../../parts/markdown";
import { SmallDiff } from "../../margin/small-diff";
import { CodeText } from "../rows/code-text";
import type { Drawable } from "./drawable";
import { Untold } from "./untold";

const NO_LINES: string[] = [];
const KINDS: Record<NotebookCell["kind"], string> = { code: "Code", markdown: "Text", raw: "Raw text" };

/** A notebook by its cells, with what came of them. Nothing in it is run. */
export function Notebook({ old, next }: Drawable) {
  const parts = useMemo(() => notebookParts(old.join("\n"), next.join("\n")), [old, next]);
  if (typeof parts === "string") return <Untold words={parts} />;
  return (
    <div className="mx-auto max-w-3xl px-6 py-5 font-sans">
      <p className="pb-3 text-soft">
        Cell by cell. What is not drawn, such as the numbers of runs, is seen line by line.
      </p>
      {parts.map((part, at) => {
        if (part.mark === "same")
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: parts have no other name
            <p key={at} className="py-2 text-soft">
              {counted(part.count, "cell")} without a difference
            </p>
          );
        if (part.mark === "about")
          return (
            <p key="about" className="mb-4 border-l-4 border-brass py-1 pl-4">
              What the notebook says of itself is changed: {listed(part.keys)}. It is seen line by line.
            </p>
          );
        const { mark, before, after } = part;
        const isOther = (key: string) => key !== "outputs" || isSame(before?.outputs, after?.outputs);
        const beside = before && after ? differing(before.rest, after.rest).filter(isOther) : [];
        const says = { changed: "changed", added: "new", removed: "gone" }[mark];
        const kind = KINDS[(after ?? before)?.kind ?? "raw"];
        return (
          <section
            // biome-ignore lint/suspicious/noArrayIndexKey: parts have no other name
            key={at}
            aria-label={`${kind}, ${says}`}
            className={`mb-4 border-l-4 pl-4 ${mark === "added" ? "border-teal" : mark === "removed" ? "border-clay" : "border-brass"}`}
          >
            <p className="text-[12.5px] text-soft">
              {kind}, {says}
            </p>
            <SmallDiff was={before?.lines ?? NO_LINES} lines={after?.lines ?? NO_LINES} />
            {after?.kind === "markdown" && <SafeMarkdown text={after.lines.join("\n")} />}
            <Outputs before={before?.outputs ?? []} after={after?.outputs ?? []} />
            {beside.length > 0 && (
              <p className="py-1 text-[13px] text-soft">
                Changed in what is not drawn, too: {listed(beside)}. It is seen line by line.
              </p>
            )}
          </section>
        );
      })}
    </div>
  );
}

/** Whether what is drawn of them is. */
function isSame(before?: CellOutput[], after?: CellOutput[]): boolean {
  return JSON.stringify(before) === JSON.stringify(after);
}

function listed(keys: readonly string[]): string {
  return keys.map((key) => `“${visible(key)}”`).join(", ");
}

function Outputs({ before, after }: { before: CellOutput[]; after: CellOutput[] }) {
  if (isSame(before, after)) return <List outputs={after} says="came of it" look="" />;
  return (
    <>
      <List outputs={before} says="came of it before" look="row-removed" />
      <List outputs={after} says="comes of it now" look="row-added" />
    </>
  );
}

function List({ outputs, says, look }: { outputs: CellOutput[]; says: string; look: string }) {
  if (outputs.length === 0) return null;
  return (
    <figure className={`mt-2 rounded p-2 ${look}`}>
      <figcaption className="text-[12.5px] text-soft">What {says}</figcaption>
      {outputs.map((output, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: outputs have no other name
        <Output key={at} output={output} />
      ))}
    </figure>
  );
}

function Output({ output }: { output: CellOutput }) {
  if (output.kind === "text")
    return (
      <pre className="max-h-72 overflow-auto font-mono text-[12px] leading-5">
        <code className="code-line">
          <CodeText text={visible(output.text)} whole={false} />
        </code>
      </pre>
    );
  if (output.kind === "image")
    // biome-ignore lint/performance/noImgElement: an image out of the file itself
    return <img src={output.source} alt="Drawn by the cell" className="max-w-full" />;
  return (
    <p className="text-[13px] text-soft">
      {visible(output.type)}, {counted(output.length, "character")}: not drawn, since it could do something.
    </p>
  );
}
