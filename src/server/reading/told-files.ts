import type { FileChange } from "@/core/diff/tree";
import { CLASSES } from "@/core/quiet/classes";
import { factsOf } from "@/core/quiet/facts";
import { echoedLines } from "@/core/quiet/kinds/echo/echoed-lines";
import { aboutFile, type FileReading, type Reading } from "@/core/quiet/whole-reading";
import { UNTOLD } from "@/core/reading/files";
import type { ReadingFile } from "@/core/views/api";

/** With more files than this, a brief list leaves ids empty, but for the first to be read: they are most of what would travel, and asked for file by file. */
const MANY_FILES = 400;

/** The files of a whole reading as they are told to whoever has read none of them. Made when they are asked for first, and kept as long as the reading: of thousands it takes longer than all else about an answer. */
export class ToldFiles {
  private made: readonly ReadingFile[] | null = null;
  private short: readonly ReadingFile[] | null = null;

  constructor(private readonly reading: Reading) {}

  get all(): readonly ReadingFile[] {
    this.made ??= toldFiles(this.reading);
    return this.made;
  }

  /** The same, and where there are very many, without what is asked for file by file. */
  get brief(): readonly ReadingFile[] {
    this.short ??= briefly(this.all);
    return this.short;
  }
}

function toldFiles({ files, echoes, alike }: Reading): ReadingFile[] {
  const runs = files.map((file) => file.runs);
  const echoed = echoes.length > 0 ? echoedLines(runs, echoes) : null;
  const places = new Map<number, number>();
  for (const { file } of alike.flat()) places.set(file, (places.get(file) ?? 0) + 1);
  return files.map((file, i) => {
    const told = toldFile(file);
    if (echoed?.has(i)) told.echoed = echoed.get(i);
    if (places.has(i)) told.alike = places.get(i);
    return told;
  });
}

/** A file of a list in which ids are left untold where there are very many. */
export function briefly(files: readonly ReadingFile[]): readonly ReadingFile[] {
  return files.length > MANY_FILES ? files.map(withoutIds) : files;
}

function withoutIds(file: ReadingFile): ReadingFile {
  return { ...file, oldId: file.oldId && UNTOLD, newId: file.newId && UNTOLD };
}

function toldFile(file: FileReading): ReadingFile {
  const { toRead, counts, added, removed } = file;
  const quiet: ReadingFile["quiet"] = {};
  for (const name of CLASSES) if (name !== "read" && counts[name] > 0) quiet[name] = counts[name];
  const lines: ReadingFile["counts"] = [added, removed];
  return Object.assign(aboutFile(file), { toRead, counts: lines, quiet, read: "unread" as const });
}

/** One of which nothing is counted yet, as it is told to whoever has not read it. A change of mode alone has no lines to count. */
export function bareFile(file: FileChange): ReadingFile {
  const trivial = file.oldId === file.newId;
  const facts = factsOf(file, null).filter(({ kind }) => kind !== "contents");
  const { path, oldId, newId, oldMode, newMode } = file;
  return {
    path,
    oldId,
    newId,
    oldMode,
    newMode,
    oldPath: null,
    copy: false,
    similarity: null,
    binary: false,
    generated: null,
    quiet: {},
    facts,
    cautions: [],
    lock: null,
    counts: trivial ? [0, 0] : null,
    toRead: trivial ? facts.length : null,
    read: "unread",
  };
}
