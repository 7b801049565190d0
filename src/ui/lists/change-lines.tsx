"use client";
import { useRouter } from "next/navigation";
import type { ReactNode } from "react";
import { visible } from "@/core/cautions/visible";
import { counted, inFigures } from "@/core/plain/words";
import { LabelTag } from "../labels/label-tag";
import { followed } from "../parts/followed";
import { When } from "../parts/when";
import type { ShownLine } from "./shown-line";

/** Change sets one below the other. */
export function ChangeLines({
  lines,
  main = false,
  before,
}: {
  lines: readonly (ShownLine & { waits?: string })[];
  main?: boolean;
  /** What stands before each. */
  before?: (line: ShownLine) => ReactNode;
}) {
  const { push } = useRouter();
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: what is clicked is a link in it, and Enter clicks that
    <ul onClick={followed(push)} className="mt-3 divide-y divide-rule rounded-md border border-rule bg-paper">
      {lines.map((line) => (
        <li key={`${line.repository}/${line.number}`} className={before && "flex items-center gap-1 pl-3"}>
          {before?.(line)}
          <Line line={line} main={main || line.waits === "me"} />
        </li>
      ))}
    </ul>
  );
}

function Line({ line, main }: { line: ShownLine; main: boolean }) {
  return (
    <a href={`/r/${line.repository}/c/${line.number}`} className={main ? "line line-main" : "line"}>
      <span className="min-w-0">
        <span className="line-title">
          {line.title}
          {line.state === "draft" && (
            <span className="ml-2 rounded border border-rule px-1.5 align-middle font-sans text-[12px] font-normal text-soft">
              draft
            </span>
          )}
        </span>
        <span className="line-of">
          {`${line.repository} ${line.number} · r${line.revision} · by ${line.author} · `}
          <span className="line-branch">{visible(line.source)}</span>
          {" into "}
          <span className="line-branch">{visible(line.target)}</span>
        </span>
        {line.labels.length > 0 && (
          <span className="flex flex-wrap gap-x-3">
            {line.labels.map((label) => (
              <LabelTag key={label.name} label={label} />
            ))}
          </span>
        )}
        {line.reasons.length > 0 && <span className="line-why">{line.reasons.join(" ")}</span>}
      </span>
      <span className="line-facts">
        <When at={line.changedAt} />
        {facts(line).map(({ words, tone }) => (
          <span key={words} className={tone}>
            {words}
          </span>
        ))}
      </span>
    </a>
  );
}

/** What stands at the end of a line, one below the other. */
function facts({ met, load, fresh, keptHere, checks, openThreads }: ShownLine): { words: string; tone?: string }[] {
  const found: { words: string; tone?: string }[] = [];
  if (met) found.push({ words: `${met[0]} of ${counted(met[1], "condition")} met` });
  if (load !== null) found.push({ words: `${counted(load, "line")} to read` });
  if (load !== null && fresh !== null && fresh < load)
    found.push({ words: fresh === 0 ? "none of it new to you" : `${inFigures(fresh)} new to you` });
  if (keptHere !== null && keptHere > 0)
    found.push({ words: `${counted(keptHere, "entry", "entries")} here alone`, tone: "text-brass" });
  if (checks === "failed") found.push({ words: "checks failed", tone: "text-clay" });
  if (checks === "running") found.push({ words: "checks are running" });
  if (openThreads > 0) found.push({ words: counted(openThreads, "open thread") });
  return found;
}
