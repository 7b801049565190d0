"use client";
import { anchorName } from "@/core/anchor/anchor";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { needsReading } from "@/core/reading/files";
import { waitsForAuthor } from "@/core/review/state";
import type { ReadingFile } from "@/core/views/api";
import { nameIn, useChangeSet } from "../state/context";
import { Choice } from "./choice";
import { ReadBar, sayFile } from "./file-choice";
import type { Item } from "./items";
import { sayUse } from "./use-choice";

/** Items that the narrow outline has no mark for: what only arranges the wide one. */
const WITHOUT: ReadonlySet<Item["kind"]> = new Set(["shape", "folder", "filter"]);

/** What the narrow outline lists of the items of the wide one. */
export const marksOf = (items: readonly Item[]): Item[] => items.filter(({ kind }) => !WITHOUT.has(kind));

/** One item of the outline where it is narrowed to marks: its words are in the title, and read aloud. */
export function Mark({ item, chosen, onClick }: { item: Item; chosen: boolean; onClick: () => void }) {
  const { view } = useChangeSet();
  if (item.kind === "head")
    return (
      <h2 className="flex h-full items-center px-2" title={item.label}>
        <span className="w-full border-t border-rule" />
        <span className="sr-only">{item.label}</span>
      </h2>
    );
  if (item.kind === "say") return <p className="sr-only">{item.words}</p>;
  const [words, sign] = drawn(item, view);
  return (
    <Choice chosen={chosen} onClick={onClick} title={words} narrow>
      {sign}
      <span className="sr-only">{words}</span>
    </Choice>
  );
}

function drawn(item: Item, view: ChangeView): [words: string, sign: React.ReactNode] {
  if (item.kind === "file") return [sayFile(item.file), <FileSign key="sign" file={item.file} />];
  if (item.kind === "thread") {
    const { anchor, comments, resolved } = item.thread;
    const waits = resolved === null && waitsForAuthor(item.thread, view.author);
    const words = `${nameIn(view, comments[0].by)} · ${anchorName(anchor)}${waits ? ", waits for the author" : ""}`;
    return [words, <Sign key="sign" sign={waits ? "●" : "○"} look={resolved === null ? "text-brass" : "text-faint"} />];
  }
  if (item.kind === "use") return [sayUse(item.use), <Sign key="sign" sign="◇" look="text-soft" />];
  return ["Brief", <Sign key="sign" sign="B" look="font-serif text-[15px]" />];
}

function Sign({ sign, look }: { sign: string; look: string }) {
  return (
    <span aria-hidden className={`w-full text-center ${look}`}>
      {sign}
    </span>
  );
}

/** How far a file is read, and how many lines of it are to read. */
function FileSign({ file }: { file: ReadingFile }) {
  return (
    <span aria-hidden className="flex w-full items-center gap-1.5">
      <ReadBar read={file.read} />
      {file.cautions.length > 0 ? (
        <span className="flex-1 text-center text-clay">⚠</span>
      ) : (
        <span
          className={`flex-1 text-right text-[11.5px] ${needsReading(file) && file.read !== "read" ? "font-semibold text-brass" : "text-soft"}`}
        >
          {short(file.toRead)}
        </span>
      )}
    </span>
  );
}

/** A number of lines in three signs at most: "7", "140", "2k". */
function short(lines: number | null): string {
  if (lines === null) return "…";
  if (lines === 0) return "·";
  return lines < 1000 ? String(lines) : lines < 100_000 ? `${Math.floor(lines / 1000)}k` : "99k";
}
