"use client";
import { visible } from "@/core/cautions/visible";
import type { Hunk } from "@/core/diff/hunk";
import { contentKey } from "@/core/diff/tree";
import { readView } from "@/core/diff/view";
import { counted } from "@/core/plain/words";
import type { ClassRun } from "@/core/quiet/classes";
import { KINDS, type QuietClass } from "@/core/quiet/kinds/kinds";
import { foldWords } from "@/core/reading/folds";
import type { Points } from "@/core/reading/points";
import { bothSides, type Stretch } from "@/core/reading/verify";
import type { FileClasses, ReadingFile } from "@/core/views/api";
import { useAsked } from "../../asking/use-asked";
import { Sheet } from "../sheets/sheet";
import { useChangeSet } from "../state/context";
import { fileQuery } from "../state/use-file";
import { useTold } from "../state/use-reading";
import { CodeText } from "./rows/code-text";
import { reasonOf } from "./rows/lines";

/** Lines of one side that are shown at most. */
const MOST = 2_000;

/** What is checked: the run that a fold begins in, and how many rows it folds; none where its lines stand in sight. */
export interface Verified {
  run: ClassRun;
  folded: number;
}

/** A fold to be checked by eye: what is said to prove it, and both sides whole. */
export function VerifySheet(props: {
  verified: Verified | null;
  file: ReadingFile;
  /** All files now compared: a move may end in another one. */
  files: readonly ReadingFile[];
  classes: FileClasses;
  hunks: readonly Hunk[];
  points: Points;
  onClose: () => void;
}) {
  const { file, classes } = props;
  if (!props.verified) return null;
  const { run, folded } = props.verified;
  const { name, proof } = KINDS[run.class as QuietClass];
  const { old, next } = bothSides(run, classes, props.hunks, file.path, file.oldPath ?? file.path);
  const { says } = foldWords(
    run,
    folded || (run.class === "repeated" ? 2 : 1) * (run.end - run.start),
    classes,
    file.path,
    reasonOf(file),
  );
  return (
    <Sheet title={`${name}: what proves it`} about={proof} open onClose={props.onClose} wide>
      <p className="flex-none border-b border-rule px-6 py-2 text-soft">{says}</p>
      <div className="grid min-h-0 flex-1 grid-cols-2 overflow-auto max-[700px]:grid-cols-1">
        {(
          [
            ["Before", old],
            ["After", next],
          ] as const
        ).map(([label, stretches]) => (
          <div key={label} className="min-w-0 border-rule px-4 py-2 odd:border-r">
            <h3 className="font-semibold">{label}</h3>
            {stretches.map((stretch) => (
              <Lines key={`${stretch.path} ${stretch.start}`} stretch={stretch} {...props} />
            ))}
            {stretches.every(({ start, end }) => start === end) && <p className="text-soft">Nothing stood there.</p>}
          </div>
        ))}
      </div>
    </Sheet>
  );
}

function Lines({
  stretch,
  files,
  file,
  points,
}: {
  stretch: Stretch;
  files: readonly ReadingFile[];
  file: ReadingFile;
  points: Points;
}) {
  const { view, place } = useChangeSet();
  const { path, side, start, end } = stretch;
  const of = [file, ...files].find((one) => (side === "old" ? (one.oldPath ?? one.path) : one.path) === path) ?? file;
  const { told, problem } = useTold(place, points, of);
  const { data } = useAsked({
    ...fileQuery(
      view.repository,
      contentKey(told?.oldId ?? null, of.oldMode),
      contentKey(told?.newId ?? null, of.newMode),
    ),
    enabled: told !== undefined,
  });
  const text = data && readView(data);
  if (!text) return <p className="text-soft">{problem ?? `Reading ${visible(path)} …`}</p>;
  const numbers = Array.from({ length: Math.min(MOST, end - start) }, (_, i) => start + i);
  return (
    <>
      <p className="truncate text-[12.5px] text-soft" title={visible(path)}>
        {visible(path)}, {start + 1} to {end}
      </p>
      <pre className="overflow-x-auto font-mono text-[12px] leading-5 [tab-size:4]">
        {numbers.map((line) => (
          <div key={line} className={`flex ${side === "old" ? "row-removed" : "row-added"}`}>
            <span className="w-11 flex-none select-none pr-2 text-right text-faint">{line + 1}</span>
            <span className="code-line">
              <CodeText text={(side === "old" ? text.old(line) : text.next[line]) ?? ""} />
            </span>
          </div>
        ))}
      </pre>
      {end - start > MOST && <p className="text-soft">… {counted(end - start - MOST, "line")} more</p>}
    </>
  );
}
