"use client";
import { useEffect, useState } from "react";
import { visible } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import { type Points, pointNames } from "@/core/reading/points";
import type { ReadingFile } from "@/core/views/api";
import type { NamedDefinition, NamedView } from "@/core/views/around-view";
import { ask, reasonFrom } from "../../../asking/ask";
import { useAsked } from "../../../asking/use-asked";
import { Key } from "../../../parts/key";
import { useChangeSet } from "../../state/context";
import { CodeText } from "../rows/code-text";
import type { ChosenName } from "./use-names";

/** Going on to the next name soon, nothing is asked about this one; in milliseconds. */
const PAUSE = 120;

const REASONS: Record<NamedDefinition["reason"], string> = {
  scope: "known here",
  file: "in this file",
  import: "imported here",
  folder: "in the same folder",
  name: "by its name alone",
};

type Go = (path: string, side: "old" | "new", line: number) => void;

/** What a name means, and where it is used: in all files, at the state that the line belongs to. */
export function NamePanel({
  chosen,
  points,
  file,
  onGo,
  onClose,
}: {
  chosen: ChosenName;
  points: Points;
  file: ReadingFile;
  onGo: Go;
  onClose: () => void;
}) {
  const { place } = useChangeSet();
  const { name, side, line, of } = useSettled(chosen);
  const path = side === "old" ? (file.oldPath ?? file.path) : file.path;
  const query = { ...pointNames(points), side, path, name, line: String(line), ...(of === null ? {} : { of }) };
  const { data, error } = useAsked({
    queryKey: ["names", place, query],
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/changes/{number}/names", { parts: place, query, signal }),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 120_000,
  });
  const isNow = chosen.name === name && chosen.line === line;
  return (
    <aside
      aria-label="What the name means"
      className="flex h-[232px] flex-none gap-6 overflow-hidden border-t border-rule bg-page px-4 py-2 max-[700px]:flex-col max-[700px]:overflow-y-auto"
    >
      <section className="flex min-h-0 min-w-0 flex-1 flex-col" aria-live="polite">
        <h3 className="flex-none truncate text-[13px] font-semibold text-soft">
          <code className="font-mono text-ink">{visible(chosen.name)}</code>
          {side === "old" && " as it was"}
        </h3>
        {error ? (
          <p role="alert" className="text-clay">
            {reasonFrom(error)}
          </p>
        ) : !data || !isNow ? (
          <p className="text-soft">Looking …</p>
        ) : (
          <Definitions named={data} side={side} onGo={onGo} />
        )}
      </section>
      <section className="flex min-h-0 min-w-0 flex-1 flex-col">
        <h3 className="flex flex-none items-baseline gap-2 text-[13px] font-semibold text-soft">
          <span className="flex-1">{data && isNow ? usesWords(data) : "Uses"}</span>
          <button type="button" className="quiet-button font-normal" onClick={onClose}>
            close <Key>Esc</Key>
          </button>
        </h3>
        {data && isNow && <Uses named={data} side={side} onGo={onGo} />}
      </section>
    </aside>
  );
}

function usesWords({ count, more, uses }: NamedView): string {
  if (count === 0) return "Nowhere else";
  return `${more ? "More than " : ""}${counted(count, "other place")} in ${counted(uses.length, "file")}`;
}

function Definitions({ named: { definitions }, side, onGo }: { named: NamedView; side: "old" | "new"; onGo: Go }) {
  const [first, ...others] = definitions;
  if (!first) return <p className="text-soft">Nothing here defines it: it comes from outside, or is no name.</p>;
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <p className="text-[13px]">
        <DefinitionLink definition={first} side={side} onGo={onGo} />{" "}
        <span className="text-soft">
          {first.kind}
          {first.within.length > 0 && ` in ${first.within.join(" › ")}`}, {REASONS[first.reason]}
        </span>
      </p>
      <pre className="mt-1 font-mono text-[12.5px] leading-5 [tab-size:4]">
        {first.text.map((text, n) => {
          const number = first.first + n;
          return (
            <div key={number} className={`flex ${number === first.line ? "bg-brass-wash" : ""}`}>
              <span className="w-11 flex-none select-none pr-2 text-right text-faint">{number}</span>
              <span className="code-line">
                <CodeText text={text} />
              </span>
            </div>
          );
        })}
      </pre>
      {others.length > 0 && (
        <p className="mt-1 text-[13px] text-soft">
          Others of this name:{" "}
          {others.map((definition, n) => (
            <span key={`${definition.path} ${definition.line} ${definition.column}`}>
              {n > 0 && ", "}
              <DefinitionLink definition={definition} side={side} onGo={onGo} />
            </span>
          ))}
        </p>
      )}
    </div>
  );
}

function DefinitionLink({
  definition: { path, line, kind, within },
  side,
  onGo,
}: {
  definition: NamedDefinition;
  side: "old" | "new";
  onGo: Go;
}) {
  return (
    <button
      type="button"
      className="quiet-button"
      title={`${kind}${within.length > 0 ? ` in ${within.join(" › ")}` : ""}`}
      onClick={() => onGo(path, side, line)}
    >
      {visible(path)} {line}
    </button>
  );
}

const KINDS = { code: "", import: "imported", comment: "in a comment", text: "in a text" } as const;

function Uses({ named: { uses, more }, side, onGo }: { named: NamedView; side: "old" | "new"; onGo: Go }) {
  return (
    <ul className="min-h-0 flex-1 overflow-auto">
      {uses.map(({ path, places }) => (
        <li key={path} className="pb-1">
          <p className="truncate text-[13px] text-soft" title={visible(path)}>
            {visible(path)}
          </p>
          <ul>
            {places.map(({ line, column, text, kind, changed }) => (
              <li key={`${line} ${column}`}>
                <button
                  type="button"
                  className="flex min-h-7 w-full items-baseline gap-2 text-left hover:bg-brass-wash"
                  onClick={() => onGo(path, side, line)}
                >
                  <span className="w-9 flex-none text-right font-mono text-[12px] text-faint">{line}</span>
                  <code
                    className={`min-w-0 flex-1 truncate font-mono text-[12.5px] ${kind === "code" ? "" : "text-soft"}`}
                  >
                    <CodeText text={text.trim()} />
                  </code>
                  <span className="flex-none text-[12px] text-soft">
                    {[KINDS[kind], changed && (side === "old" ? "goes" : "new here")].filter(Boolean).join(", ")}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </li>
      ))}
      {more && <li className="text-soft">There is more than is listed here: search for it.</li>}
    </ul>
  );
}

/** A name once it has been chosen for a moment. */
function useSettled(chosen: ChosenName): ChosenName {
  const [settled, setSettled] = useState(chosen);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(chosen), PAUSE);
    return () => clearTimeout(timer);
  }, [chosen]);
  return settled;
}
