"use client";
import type { ColumnChoice } from "@/core/reading/columns";
import { goesOn, waitsForAuthor } from "@/core/review/state";
import { useRemembered } from "../../kept/use-remembered";
import { useActions } from "../actions/use-actions";
import { type ChangeState, type Tell, useChangeSet } from "../state/context";
import type { useCommitWalk } from "./use-commits";
import type { FilesWalk } from "./use-files-walk";
import type { Navigation } from "./use-navigation";
import type { useThreadsWalk } from "./use-threads-walk";

/** Sheets that can be open over the workspace. */
export type Opened =
  | "send"
  | "take"
  | "merge"
  | "keys"
  | "command"
  | "search"
  | "revisions"
  | "parts"
  | "file-history"
  | null;

interface Walks {
  files: FilesWalk;
  threads: ReturnType<typeof useThreadsWalk>;
  commits: ReturnType<typeof useCommitWalk>;
  /** Between all of it and what is new; null where both are the same. */
  toggle: (() => void) | null;
}

/** What can be done anywhere in the workspace, by a key or by name. */
export function useReadingActions(
  { chosen, choose }: Navigation,
  { files, threads, commits, toggle }: Walks,
  open: (sheet: Opened) => void,
  tell: Tell,
): void {
  const { view } = useChangeSet();
  const nextColumns = useNextColumns(tell);
  const { maySend, mayMerge } = rightsIn(view);
  const inBrief = chosen === null;
  useActions({
    "next-file": () => files.step(1),
    "previous-file": () => files.step(-1),
    "next-unread": files.nextUnread,
    // From the brief on, where there is no difference to go to yet, the first file is what comes next.
    ...(inBrief ? { "next-difference": () => files.step(1), "read-next": () => files.step(1) } : {}),
    brief: () => choose(null),
    "all-or-new": toggle,
    "columns-of-all": nextColumns,
    "next-commit": () => commits.step(1),
    "previous-commit": () => commits.step(-1),
    "more-commits": () => commits.grow(1),
    "fewer-commits": () => commits.grow(-1),
    "next-thread": () => threads.next(({ resolved }) => resolved === null, "There is no open thread here."),
    "next-unanswered": () =>
      threads.next((thread) => waitsForAuthor(thread, view.author), "No thread waits for the author’s answer."),
    take: view.picked.length > 0 ? () => open("take") : null,
    search: () => open("search"),
    "file-history": inBrief ? null : () => open("file-history"),
    parts: inBrief ? null : () => open("parts"),
    revisions: () => open("revisions"),
    send: maySend ? () => open("send") : null,
    merge: mayMerge ? () => open("merge") : null,
    keys: () => open("keys"),
    "go-to": () => open("command"),
  });
}

function rightsIn(view: ChangeState["view"]) {
  return {
    maySend: goesOn(view) && view.me.remark.may,
    mayMerge: view.state === "open" && view.me.merge.may,
  };
}

/** One column or two for all files: as fits, always one, always two. */
function useNextColumns(tell: Tell): () => void {
  const [columns, setColumns] = useRemembered<ColumnChoice>("columns", "fit");
  return () => {
    const next = columns === "fit" ? "one" : columns === "one" ? "two" : "fit";
    setColumns(next);
    tell(
      next === "fit"
        ? "Each file in one column or two, as fits what changed in it."
        : `Every file in ${next === "one" ? "one column" : "two columns"}, unless you chose otherwise for it.`,
    );
  };
}
