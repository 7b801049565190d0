import Link from "next/link";
import type { ReactNode } from "react";
import { visible } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import type { ChangeLine } from "@/core/views/desk-view";
import { LabelTag } from "../labels/label-tag";
import { When } from "../parts/when";

/** So many are shown at first. */
const MOST = 50;

/** One part of a desk: change sets under a heading that says why they stand together. */
export function ChangeList({
  title,
  about,
  lines,
  empty,
  main = false,
  all,
}: {
  title: string;
  about: string;
  lines: ChangeLine[];
  empty: ReactNode;
  main?: boolean;
  /** Where all of it is shown, when it is long; null where that is here. */
  all: string | null;
}) {
  const shown = all === null ? lines : lines.slice(0, MOST);
  return (
    <section className="mt-8" aria-label={title}>
      <h2 className="font-serif text-xl font-semibold">
        {title} {lines.length > 0 && <span className="text-soft">· {lines.length}</span>}
      </h2>
      <p className="text-soft">{about}</p>
      {lines.length === 0 ? (
        <p className="mt-3 rounded-md border border-dashed border-rule px-4 py-3 text-soft">{empty}</p>
      ) : (
        <ChangeLines lines={shown} main={main} />
      )}
      {shown.length < lines.length && (
        <p className="mt-2">
          <Link
            prefetch={false}
            href={all ?? ""}
            className="text-slate underline underline-offset-2 hover:decoration-2"
          >
            Show all {lines.length.toLocaleString("en")}
          </Link>
        </p>
      )}
    </section>
  );
}

/** Change sets one below the other. */
export function ChangeLines({
  lines,
  main = false,
  before,
}: {
  lines: readonly (ChangeLine & { waits?: string })[];
  main?: boolean;
  /** What stands before each. */
  before?: (line: ChangeLine) => ReactNode;
}) {
  return (
    <ul className="mt-3 divide-y divide-rule rounded-md border border-rule bg-paper">
      {lines.map((line) => (
        <li key={`${line.repository}/${line.number}`} className={before && "flex items-center gap-1 pl-3"}>
          {before?.(line)}
          <Line line={line} main={main || line.waits === "me"} />
        </li>
      ))}
    </ul>
  );
}

function Line({ line, main }: { line: ChangeLine; main: boolean }) {
  const met = line.gate?.conditions.filter((condition) => condition.met).length ?? 0;
  return (
    <Link
      prefetch={false}
      href={`/r/${line.repository}/c/${line.number}`}
      className={`grid min-w-0 flex-1 grid-cols-[minmax(0,1fr)_auto] gap-x-6 border-l-4 max-[700px]:grid-cols-1 px-4 py-2.5 hover:bg-brass-wash ${main ? "border-brass" : "border-transparent"}`}
    >
      <span className="min-w-0">
        <span className="block truncate font-serif text-[16px] font-semibold max-[700px]:whitespace-normal">
          {line.title}
          {line.state === "draft" && (
            <span className="ml-2 rounded border border-rule px-1.5 align-middle font-sans text-[12px] font-normal text-soft">
              draft
            </span>
          )}
        </span>
        <span className="block truncate text-soft max-[700px]:whitespace-normal">
          {line.repository} {line.number} · r{line.revision} · by {line.author} ·{" "}
          <span className="font-mono text-[12px]">{visible(line.source)}</span> into{" "}
          <span className="font-mono text-[12px]">{visible(line.target)}</span>
        </span>
        {line.labels.length > 0 && (
          <span className="flex flex-wrap gap-x-3">
            {line.labels.map((label) => (
              <LabelTag key={label.name} label={label} />
            ))}
          </span>
        )}
        {line.reasons.length > 0 && (
          <span className={`mt-0.5 block ${main ? "text-ink" : "text-soft"}`}>{line.reasons.join(" ")}</span>
        )}
      </span>
      <span className="text-right text-soft max-[700px]:flex max-[700px]:flex-wrap max-[700px]:gap-x-3 max-[700px]:text-left">
        <span className="block">
          <When at={line.changedAt} />
        </span>
        {line.gate && (
          <span className="block">
            {met} of {counted(line.gate.conditions.length, "condition")} met
          </span>
        )}
        {line.load !== null && <span className="block">{counted(line.load, "line")} to read</span>}
        {line.load !== null && line.fresh !== null && line.fresh < line.load && (
          <span className="block">
            {line.fresh === 0 ? "none of it new to you" : `${line.fresh.toLocaleString("en")} new to you`}
          </span>
        )}
        {line.keptHere !== null && line.keptHere > 0 && (
          <span className="block text-brass">{counted(line.keptHere, "entry", "entries")} here alone</span>
        )}
        {line.checks === "failed" && <span className="block text-clay">checks failed</span>}
        {line.checks === "running" && <span className="block">checks are running</span>}
        {line.openThreads > 0 && <span className="block">{counted(line.openThreads, "open thread")}</span>}
      </span>
    </Link>
  );
}
