"use client";
import { useMemo } from "react";
import { scopesIn } from "@/core/diff/scopes";

/** What the topmost line lies in. Always there, so that the text below does not jump. */
export function Scopes({
  path,
  lines,
  line,
  onGo,
}: {
  path: string;
  lines: readonly string[];
  line: number;
  onGo: (line: number) => void;
}) {
  const scopes = useMemo(() => (line > 0 ? scopesIn(path, lines, line) : []), [path, lines, line]);
  return (
    <nav
      aria-label="What this lies in"
      className="flex h-6 flex-none items-center gap-2 overflow-hidden border-b border-rule bg-well px-4 font-mono text-[11.5px] text-soft"
    >
      {scopes.map((scope, i) => (
        <span key={scope.line} className="flex min-w-0 items-center gap-2">
          {i > 0 && <span aria-hidden>›</span>}
          <button
            type="button"
            className="truncate hover:underline"
            title={`To line ${scope.line + 1}`}
            onClick={() => onGo(scope.line)}
          >
            {scope.text}
          </button>
        </span>
      ))}
    </nav>
  );
}
