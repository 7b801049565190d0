"use client";
import { useMemo } from "react";
import { pairLines } from "@/core/diff/line-pairs";
import { diffLines } from "@/core/diff/lines";
import { segmentLine } from "@/core/reading/segments";
import { Segments } from "../manuscript/rows/segments";

const NONE: number[] = [];

/** What a suggestion changes, line by line and with the words marked. All of it is in sight: who takes it takes what stands far to the right, too. */
export function SmallDiff({ was, lines }: { was: readonly string[]; lines: readonly string[] }) {
  const rows = useMemo(() => rowsOf(was, lines), [was, lines]);
  return (
    <section
      aria-label="What it changes"
      className="my-1 overflow-hidden rounded border border-rule font-mono text-[12px] leading-5 [font-variant-ligatures:none] [tab-size:4]"
    >
      <div>
        {rows.map(({ sign, text, spans }, i) => (
          <p
            // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name
            key={i}
            className={`flex pr-2 ${sign === "+" ? "row-added" : sign === "−" ? "row-removed" : ""}`}
          >
            <span className="sign w-5 flex-none text-center">
              {sign}
              <span className="sr-only">{sign === "+" ? "added: " : sign === "−" ? "removed: " : ""}</span>
            </span>
            <span className="code-line flex-1">
              <Segments segments={segmentLine(text, NONE, spans)} whole />{" "}
            </span>
          </p>
        ))}
      </div>
    </section>
  );
}

function rowsOf(was: readonly string[], lines: readonly string[]) {
  const rows: { sign: "" | "+" | "−"; text: string; spans: number[] }[] = [];
  let at = 0;
  const same = (end: number) => {
    for (; at < end; at++) rows.push({ sign: "", text: was[at], spans: NONE });
  };
  for (const hunk of diffLines(was, lines)) {
    same(hunk.oldStart);
    const pairs = pairLines(was, lines, hunk);
    const oldSpans = new Map(pairs.map((pair) => [pair.old, pair.oldSpans]));
    const newSpans = new Map(pairs.map((pair) => [pair.next, pair.newSpans]));
    for (; at < hunk.oldEnd; at++) rows.push({ sign: "−", text: was[at], spans: oldSpans.get(at) ?? NONE });
    for (let i = hunk.newStart; i < hunk.newEnd; i++)
      rows.push({ sign: "+", text: lines[i], spans: newSpans.get(i) ?? NONE });
  }
  same(was.length);
  return rows;
}
