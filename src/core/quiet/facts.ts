import type { Comparison } from "../diff/compare";
import { EXECUTABLE, type FileChange, type PairedChange, SUBMODULE, SYMLINK, TYPE } from "../diff/tree";

/** Something that happened to a file and is no line of its text: one line to read. */
export interface Fact {
  kind: "executable" | "not-executable" | "became" | "contents" | "copied" | "renamed";
  /** A sentence. */
  says: string;
}

const KINDS: Record<number, string> = {
  [SYMLINK]: "a symbolic link",
  [SUBMODULE]: "a pointer into another repository",
};

/** What happened to a file beside its lines. What it points to, as a link or into another repository, is told by its lines. */
export function factsOf(
  { oldMode, newMode, oldId, newId, oldPath, copy }: FileChange & Partial<Pick<PairedChange, "oldPath" | "copy">>,
  comparison: Comparison | null,
): Fact[] {
  const facts: Fact[] = [];
  const kind = (mode: number) => KINDS[mode & TYPE] ?? "a file";
  if (oldMode !== 0 && newMode !== 0 && (oldMode & TYPE) !== (newMode & TYPE))
    facts.push({ kind: "became", says: `What was ${kind(oldMode)} is ${kind(newMode)} now.` });
  if (newMode === EXECUTABLE && oldMode !== EXECUTABLE)
    facts.push({ kind: "executable", says: oldMode === 0 ? "It can be run as a program." : "It was made executable." });
  if (oldMode === EXECUTABLE && newMode !== EXECUTABLE && newMode !== 0)
    facts.push({ kind: "not-executable", says: "It is no longer executable." });
  if (oldPath && copy) facts.push({ kind: "copied", says: `All that ${oldPath} says stands here a second time.` });
  if (oldId !== newId && comparison === null)
    facts.push({ kind: "contents", says: "It is too large to be compared here." });
  else if (oldId !== newId && comparison?.binary) {
    const says = comparison.nearlyText
      ? "It holds a NUL, and so is taken for no text: it can be opened as text all the same."
      : "Its contents are no text.";
    facts.push({ kind: "contents", says });
  }
  return facts;
}

/** Of a new file that says what another new one says. */
export function addedTwice(path: string): Fact {
  return { kind: "copied", says: `All that ${path} says, which is new as well, stands here, too.` };
}
