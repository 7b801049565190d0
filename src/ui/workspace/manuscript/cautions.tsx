"use client";
import { useState } from "react";
import { visible } from "@/core/cautions/visible";
import { counted, inFigures } from "@/core/plain/words";
import { lockWords } from "@/core/quiet/kinds/lock/lock-words";
import type { ReadingFile } from "@/core/views/api";

const FEW = 4;

/** What is to know of a file before its lines are read: what the eye does not see in it, what happened to it, how a lockfile changed. */
export function Cautions({ file, onGo }: { file: ReadingFile; onGo: (line: number) => void }) {
  const [all, setAll] = useState(false);
  const lock = file.lock ? lockWords(file.lock) : [];
  if (file.cautions.length + file.facts.length + lock.length === 0) return null;
  const shown = all ? lock : lock.slice(0, FEW);
  return (
    <section
      aria-label="Cautions"
      className="max-h-[38%] flex-none overflow-y-auto border-b border-rule bg-brass-wash/60 px-4 py-1.5 text-[13.5px]"
    >
      <ul>
        {file.facts
          .filter(
            ({ kind }) => kind !== "executable" || !file.cautions.some((caution) => caution.kind === "executable"),
          )
          .map(({ kind, says }) => (
            <li key={kind} className="break-words">
              {visible(says)}
            </li>
          ))}
        {file.cautions.map(({ kind, says, line }) => (
          <li key={`${kind} ${says}`} className="flex gap-2">
            <span aria-hidden className="flex-none font-semibold text-clay">
              ⚠
            </span>
            <span className="sr-only">Caution:</span>
            <span className="min-w-0 break-words">{visible(says)}</span>
            {line !== null && (
              <button type="button" className="quiet-button flex-none" onClick={() => onGo(line)}>
                line {inFigures(line)}
              </button>
            )}
          </li>
        ))}
        {shown.map((says) => (
          <li key={says} className="font-mono text-[12.5px]">
            {visible(says)}
          </li>
        ))}
      </ul>
      {lock.length > FEW && (
        <button type="button" className="quiet-button" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? "only the first" : `all ${counted(lock.length, "package")}`}
        </button>
      )}
    </section>
  );
}
