import { counted, inFigures } from "../plain/words";
import type { ClassRun, Side } from "../quiet/classes";
import { KINDS } from "../quiet/kinds/kinds";
import type { FileClasses, MoveEnd } from "../views/api";

/** What a fold says of itself: a word for its kind, and a sentence's worth of why. */
export interface FoldWords {
  kind: string;
  says: string;
  /** The other end of a move, or what an echo is an echo of; null for other kinds. */
  otherEnd: (MoveEnd & { side: Side }) | null;
}

/** Words for a fold of `lines` rows, removed and added ones counted each, that begins in `run`. `path` is the file it stands in, `reason` why the file is generated. */
export function foldWords(
  run: ClassRun,
  lines: number,
  classes: FileClasses,
  path: string,
  reason: string | null,
): FoldWords {
  const kind = run.class === "read" ? "To read" : KINDS[run.class].name;
  const size = counted(lines, "line");
  if (run.class === "moved") {
    const move = classes.moves[run.ref];
    const other = run.side === "old" ? { ...move.to, side: "new" as const } : { ...move.from, side: "old" as const };
    const named = move.from.within !== move.to.within;
    const inside = (within: string | null) => (within === null ? "the top of the file" : `“${within}”`);
    const ends = named ? `, out of ${inside(move.from.within)} into ${inside(move.to.within)}` : "";
    const where = `${other.path === path ? "this file" : other.path}, ${other.start} to ${other.end}${ends}`;
    const edited = move.edited > 0 ? `, ${counted(move.edited, "line")} of it edited` : "";
    return { kind, says: `${size} ${run.side === "old" ? "to" : "from"} ${where}${edited}`, otherEnd: other };
  }
  if (run.class === "repeated") {
    const { names, lines: all, files } = classes.replacements[run.ref];
    const everywhere = `${counted(all, "line")} in ${counted(files, "file")}`;
    return {
      kind,
      says: `${names.map(({ from, to }) => `${from} → ${to}`).join(", ")}, ${counted(Math.ceil(lines / 2), "line")} here; ${everywhere} in all, nothing else changed on them`,
      otherEnd: null,
    };
  }
  if (run.class === "echo") {
    const { old, next, times, names } = classes.echoes[run.ref];
    // Of a stretch that only went there is nothing left on the new side to lead to.
    const head = next.end >= next.start ? { ...next, side: "new" as const } : { ...old, side: "old" as const };
    const where = head.path === path ? "this file" : head.path;
    const more = times > 1 ? `; one of ${inFigures(times)}` : "";
    const but = names.length > 0 ? `, with ${names.map(({ from, to }) => `${to} for ${from}`).join(", ")}` : "";
    return {
      kind,
      says: `${size}, the same change as at line ${head.start} of ${where}, which is to be read${but}${more}`,
      otherEnd: head,
    };
  }
  if (run.class === "nested") {
    const says = `${size}, which ${run.side === "old" ? "stand in another block now" : "stood in another block"}`;
    return { kind, says, otherEnd: null };
  }
  if (run.class === "generated") return { kind, says: `${size}${reason ? `, ${reason}` : ""}`, otherEnd: null };
  return { kind, says: `${size}, ${ABOUT[run.class]}`, otherEnd: null };
}

const ABOUT: Record<Exclude<ClassRun["class"], "moved" | "repeated" | "echo" | "generated" | "nested">, string> = {
  read: "left to read",
  layout: "the same words in the same order, set differently",
  style: "the same with other quotes, commas, brackets or semicolons",
  blank: "nothing on them",
  endings: "only the end of the line changed",
  imports: "put into another order",
};
