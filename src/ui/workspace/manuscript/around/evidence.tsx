"use client";
import { stepsOf } from "@/core/diff/history";
import type { FileView } from "@/core/diff/view";
import { counted, shortened } from "@/core/plain/words";
import { type Points, pointNames } from "@/core/reading/points";
import { ADDED, GAP, REMOVED, type Rows, SAME } from "@/core/reading/rows";
import type { CommitView, FileClasses, LineOrigins, ReadingFile } from "@/core/views/api";
import { ask } from "../../../asking/ask";
import { useAsked } from "../../../asking/use-asked";
import { Key } from "../../../parts/key";
import { When } from "../../../parts/when";
import { useChangeSet } from "../../state/context";
import { CodeText } from "../rows/code-text";
import { SHOWN } from "../rows/row";
import { LineHistory } from "./line-history";

const MOST_LINES = 6;

/** For the line under the pointer or the cursor: what stood there before (or stands there now), and the commits that touched it. */
export function Evidence(props: {
  points: Points;
  file: ReadingFile;
  view: FileView;
  text: { next: string[]; old: (line: number) => string };
  rows: Rows;
  classes: FileClasses;
  row: number;
  onCommit: (commit: CommitView) => void;
  onClose: () => void;
}) {
  const { place } = useChangeSet();
  const { points, file, view, text, rows, row, onCommit, onClose } = props;
  const query = { ...pointNames(points), path: file.path };
  const origins = useAsked({
    queryKey: ["origins", place, query.from, query.to, file.path],
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/changes/{number}/origins", { parts: place, query, signal }),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const kind = row < 0 || row >= rows.count ? GAP : rows.kind[row];
  const old = kind === REMOVED;
  const changed = kind === ADDED || old;
  const line = old ? rows.old[row] : rows.next[row];
  /** Where it stood before the change set, as far as that is one line. */
  const was = old ? line : (view.comparison.pairs.find(({ next }) => changed && next === line)?.old ?? null);
  const other = changed ? counterpart(view, text, old, line) : null;
  const why = origins.data && changed ? whyOf(origins.data, view, old, line) : [];
  return (
    <aside
      aria-label="What stood before, and why"
      className="flex h-[150px] flex-none gap-6 overflow-hidden border-t border-rule bg-page px-4 py-2"
    >
      <section className="flex min-w-0 flex-1 flex-col" aria-live="polite">
        <h3 className="flex-none text-[13px] font-semibold text-soft">
          {!changed
            ? kind === SAME
              ? `Line ${line + 1}, not changed here`
              : "Not a line"
            : old
              ? `Old line ${line + 1}, now`
              : `Line ${line + 1}, before`}
        </h3>
        {other && (
          <pre className="min-h-0 flex-1 overflow-auto font-mono text-[12.5px] leading-5">
            {other.lines.length === 0 ? (
              <span className="font-sans text-soft">{other.says}</span>
            ) : (
              other.lines.map((text, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: lines have no other name
                <div key={i} className="code-line">
                  <CodeText text={shortened(text, SHOWN)} />
                </div>
              ))
            )}
          </pre>
        )}
        {!changed && kind === SAME && (
          <pre className="min-h-0 flex-1 overflow-auto font-mono text-[12.5px] leading-5">
            <span className="code-line">
              <CodeText text={shortened(text.next[line] ?? "", SHOWN)} />
            </span>
          </pre>
        )}
        {!changed && kind !== SAME && <p className="text-soft">Go to a line, or point at one.</p>}
      </section>
      <section className="flex min-w-0 flex-1 flex-col">
        <h3 className="flex flex-none items-baseline gap-2 text-[13px] font-semibold text-soft">
          <span className="flex-1">
            {why.length > 0
              ? `Why: ${counted(why.length, "commit")} touched it`
              : changed
                ? "Why"
                : "How it came to be"}
          </span>
          <button type="button" className="quiet-button font-normal" onClick={onClose}>
            close <Key>Y</Key>
          </button>
        </h3>
        <ol className="min-h-0 flex-1 overflow-y-auto">
          {changed && !origins.data && (
            <li className="text-soft">{origins.isError ? "It could not be found out." : "Looking …"}</li>
          )}
          {kind === SAME && <LineHistory points={points} side="new" path={file.path} line={line + 1} />}
          {origins.data && changed && why.length === 0 && (
            <li className="text-soft">
              {old
                ? "It stood there by no commit of this change set: the target brought it, or it was there before."
                : "No commit of this change set made it: it stands there as it does in the target."}
            </li>
          )}
          {[...why].reverse().map(({ commit, earlier }) => {
            return (
              <li key={commit.id} className="pb-1">
                <button type="button" className="text-left font-serif hover:underline" onClick={() => onCommit(commit)}>
                  {commit.subject}
                </button>{" "}
                <span className="text-[12.5px] text-soft">
                  <code className="font-mono text-[11.5px]">{commit.id.slice(0, 8)}</code> · {commit.author},{" "}
                  <When at={commit.at} />
                  {earlier && " · in an earlier revision, no longer part of it"}
                </span>
                {commit.body !== "" && <p className="whitespace-pre-line text-[13px] text-soft">{commit.body}</p>}
              </li>
            );
          })}
          {changed && was !== null && (
            <LineHistory points={points} side="old" path={file.oldPath ?? file.path} line={was + 1} before />
          )}
        </ol>
      </section>
    </aside>
  );
}

/**
 * The commits that explain a changed line, the oldest first. A new line that none made, after a rebase, is explained by those that had
 * made of it what stood there before.
 */
function whyOf(
  { commits, earlier, old, next }: LineOrigins,
  { comparison }: FileView,
  removed: boolean,
  line: number,
): { commit: CommitView; earlier: boolean }[] {
  const own = stepsOf(removed ? old : next, line);
  const before = removed ? undefined : comparison.pairs.find((pair) => pair.next === line);
  const steps = own.length > 0 || !before ? own : stepsOf(old, before.old);
  return steps.map((step) => ({ commit: commits[step], earlier: step < earlier }));
}

/** What a changed line was before, or has become: its other half if it has one, else all that it was exchanged for. */
function counterpart(
  { comparison }: FileView,
  text: { next: string[]; old: (line: number) => string },
  old: boolean,
  line: number,
): { lines: string[]; says: string } {
  const pair = comparison.pairs.find((candidate) => (old ? candidate.old : candidate.next) === line);
  if (pair) return { lines: [old ? text.next[pair.next] : text.old(pair.old)], says: "" };
  const hunk = comparison.hunks.find((candidate) =>
    old ? candidate.oldStart <= line && line < candidate.oldEnd : candidate.newStart <= line && line < candidate.newEnd,
  );
  if (!hunk) return { lines: [], says: "" };
  const paired = new Set(comparison.pairs.map((candidate) => (old ? candidate.next : candidate.old)));
  const [from, to] = old ? [hunk.newStart, hunk.newEnd] : [hunk.oldStart, hunk.oldEnd];
  const lines: string[] = [];
  for (let i = from; i < to && lines.length < MOST_LINES; i++)
    if (!paired.has(i)) lines.push(old ? text.next[i] : text.old(i));
  return { lines, says: old ? "Nothing came in its place." : "Nothing stood here: the line is new." };
}
