"use client";
import type { KeyboardEvent } from "react";
import { atEnd } from "../focus/at-end";
import { HiddenSigns } from "./hidden-signs";

/** Where code is written: Tab indents as the lines around do, Enter goes on at the same depth, Escape and then Tab leads out. */
export function CodeField({
  label,
  lines,
  onLines,
  onLeave,
  focus = false,
}: {
  label: string;
  lines: readonly string[];
  onLines: (lines: string[]) => void;
  onLeave: () => void;
  /** It opens because the person asked to write. */
  focus?: boolean;
}) {
  const text = lines.join("\n");
  const unit = indentationOf(lines);
  const replace = (field: HTMLTextAreaElement, from: number, to: number, by: string) => {
    // Goes through the browser's own editing, so that it can be undone there.
    field.setSelectionRange(from, to);
    document.execCommand("insertText", false, by);
  };
  const keys = (event: KeyboardEvent<HTMLTextAreaElement>) => {
    const field = event.currentTarget;
    const { selectionStart: from, selectionEnd: to, value } = field;
    const lineStart = value.lastIndexOf("\n", from - 1) + 1;
    if (event.key === "Escape") {
      event.preventDefault();
      event.stopPropagation();
      onLeave();
    } else if (event.key === "Tab" && !event.ctrlKey && !event.altKey) {
      event.preventDefault();
      if (!event.shiftKey) return replace(field, from, to, unit);
      const depth = value.slice(lineStart).match(unit === "\t" ? /^\t/ : new RegExp(`^ {1,${unit.length}}`));
      if (depth) replace(field, lineStart, lineStart + depth[0].length, "");
    } else if (event.key === "Enter" && !event.ctrlKey) {
      event.preventDefault();
      const depth = /^[ \t]*/.exec(value.slice(lineStart, from))?.[0] ?? "";
      replace(field, from, to, `\n${depth}`);
    }
  };
  const take = (next: string) => onLines(next === "" ? [] : next.split("\n"));
  return (
    <>
      <textarea
        ref={focus ? atEnd : undefined}
        aria-label={label}
        spellCheck={false}
        wrap="off"
        rows={Math.min(14, Math.max(2, lines.length + 1))}
        className="field overflow-x-auto whitespace-pre font-mono text-[12.5px] leading-5 [font-variant-ligatures:none] [tab-size:4]"
        value={text}
        onChange={(event) => take(event.target.value)}
        onKeyDown={keys}
      />
      <HiddenSigns text={text} what="code" onText={take} />
    </>
  );
}

/** What one step of indentation is in some lines: a tab, or as many spaces as the shallowest has. */
function indentationOf(lines: readonly string[]): string {
  if (lines.some((line) => line.startsWith("\t"))) return "\t";
  const depths = lines.map((line) => /^ */.exec(line)?.[0].length ?? 0).filter((depth) => depth > 0);
  const least = Math.min(...depths);
  return " ".repeat(Number.isFinite(least) && least <= 8 ? (least % 4 === 0 ? 4 : 2) : 2);
}
