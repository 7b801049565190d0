"use client";
import { useCallback, useMemo } from "react";
import { asListed, isLeft } from "@/core/reading/files";
import type { ReadingFile } from "@/core/views/api";
import { useShape } from "../outline/use-shape";
import type { Tell } from "../state/context";
import { FIRST, type Navigation } from "./use-navigation";

/** What is said of keys that lead to files where none are there, or none yet. */
const NONE = "No file is compared here.";
const COMING = "The files are still on their way.";

/** Going through the files that are compared. */
export interface FilesWalk {
  /** The next file, or the one before; before the first is the brief. */
  step: (by: 1 | -1) => void;
  /** The next file that is left to read, after the one that is open. */
  nextUnread: () => void;
  /** Marks the open file read, and goes on to what is left. */
  readNext: () => void;
  /** Shows a line of a file that may have had another name. */
  jump: (path: string, side: "old" | "new", line: number) => void;
  /** The files that come next to be read: two, so that who goes on quickly does not wait for the second. */
  upcoming: readonly ReadingFile[];
}

/** `onRead` marks a file read; null where what is shown is no whole file, so that having read it says nothing of it. */
export function useFilesWalk(
  { chosen, choose, chooseLine }: Navigation,
  compared: ReadingFile[] | undefined,
  file: ReadingFile | undefined,
  onRead: (() => void) | null,
  openOther: (path: string) => Promise<boolean>,
  tell: Tell,
): FilesWalk {
  // In the order in which the outline shows them.
  const [shape] = useShape();
  const files = useMemo(() => compared && asListed(compared, shape), [compared, shape]);
  const index = useMemo(() => files?.findIndex(({ path }) => path === chosen) ?? -1, [files, chosen]);
  const left = (after: number, but?: ReadingFile) =>
    files && nextIn(files, after, (other) => isLeft(other) && other.path !== but?.path);
  const step = (by: 1 | -1) => {
    if (!files && chosen === null && by === 1) return choose(FIRST);
    if (!files || files.length === 0) return tell(files ? NONE : COMING);
    const next = index + by;
    if (next >= files.length) tell("This is the last file.");
    else choose(next < 0 ? null : files[next].path);
  };
  const jump = useCallback(
    (path: string, side: "old" | "new", line: number) => {
      const now = files?.find((other) => other.path === path || other.oldPath === path);
      if (now) return chooseLine(now.path, side, line);
      // What did not change is the same on both sides.
      void openOther(path).then((found) => {
        if (found) chooseLine(path, "new", line);
        else tell(`${path} is not among the files now compared.`);
      });
    },
    [files, chooseLine, openOther, tell],
  );
  const upcoming = useMemo(() => {
    const next = files && nextIn(files, index, isLeft);
    const other = next && nextIn(files, files.indexOf(next), isLeft);
    return [next, other].filter((file) => file !== undefined);
  }, [files, index]);
  return {
    step,
    jump,
    upcoming,
    nextUnread: () => {
      if (!files) return step(1);
      const next = left(index, file);
      if (next) choose(next.path);
      else tell(file && isLeft(file) ? "No other file is left to read." : "Nothing is left to read.");
    },
    readNext: () => {
      if (!files || !file) return tell(COMING);
      if (!onRead) return step(1);
      if (file.read !== "read") onRead();
      const next = left(index, file);
      if (next) choose(next.path);
      else tell("That was the last one: everything that is to be read is read.");
    },
  };
}

/** The first that fits after an index, going round. */
export function nextIn<T>(list: T[], index: number, fits: (item: T) => boolean): T | undefined {
  for (let away = 1; away <= list.length; away++) {
    const item = list[(index + away + list.length) % list.length];
    if (fits(item)) return item;
  }
  return undefined;
}
