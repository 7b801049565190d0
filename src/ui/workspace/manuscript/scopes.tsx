"use client";
import { useMemo } from "react";
import { visible } from "@/core/cautions/visible";
import { type Outlined, partsAround } from "@/core/definitions/outline";
import { isMarkdown, type Scope, scopesIn } from "@/core/diff/scopes";
import { useOutline } from "../state/use-outline";

/** What the topmost line lies in, over the lines that scroll under it; nothing where it lies in nothing. */
export function Scopes({
  repository,
  id,
  path,
  lines,
  line,
  onGo,
}: {
  repository: string;
  /** The blob; null where there is none to be asked about. */
  id: string | null;
  path: string;
  lines: readonly string[];
  line: number;
  onGo: (line: number) => void;
}) {
  // Asked here: when the answer comes, nothing but this is drawn anew.
  const parts = useOutline(repository, id, path);
  const scopes = useMemo(() => scopesAround(path, parts, lines, line), [path, parts, lines, line]);
  if (scopes.length === 0) return null;
  return (
    <nav
      aria-label="What this lies in"
      className="absolute inset-x-0 top-0 z-10 flex h-6 items-center gap-2 overflow-hidden border-b border-rule bg-well px-4 font-mono text-[11.5px] text-soft"
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
            {visible(scope.text)}
          </button>
        </span>
      ))}
    </nav>
  );
}

/** The parts that have names, where the grammar tells them; within the innermost, and where there are none, what indentation tells. */
export function scopesAround(
  path: string,
  parts: readonly Outlined[],
  lines: readonly string[],
  line: number,
): Scope[] {
  if (line <= 0) return [];
  const around = isMarkdown(path) ? [] : partsAround(parts, line);
  const innermost = around.at(-1)?.line ?? -1;
  return [
    ...around.map(({ name, kind, line: on }) => ({ line: on, text: kind === "function" ? `${name}()` : name })),
    ...scopesIn(path, lines, line).filter((scope) => scope.line > innermost),
  ];
}
