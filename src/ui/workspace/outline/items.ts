import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { inFigures } from "@/core/plain/words";
import { inOrder, isLeft, linesToRead } from "@/core/reading/files";
import { treeOf } from "@/core/reading/tree";
import { type Thread, waitsForAuthor } from "@/core/review/state";
import type { ReadingFile } from "@/core/views/api";
import type { UseLeftAlone } from "../navigation/use-left-alone";

/** One line of the outline. */
export type Item =
  | { kind: "brief" }
  | { kind: "shape" }
  /** `settled`: it opens and closes the resolved threads below it. */
  | { kind: "head"; label: string; settled?: boolean }
  | { kind: "folder"; path: string; name: string; depth: number; open: boolean; left: number }
  /** `depth` is null where the file is listed with its whole path. */
  | { kind: "file"; file: ReadingFile; depth: number | null }
  /** A use of what changed that the change set leaves alone. */
  | { kind: "use"; use: UseLeftAlone }
  | { kind: "thread"; thread: Thread }
  | { kind: "filter" }
  | { kind: "say"; words: string };

export function keyOf(item: Item, index: number): string {
  if (item.kind === "file") return `f${item.file.path}`;
  if (item.kind === "folder") return `d${item.path}`;
  if (item.kind === "thread") return `t${item.thread.id}`;
  return `${item.kind}${index}`;
}

/** Uses that the change set leaves alone. */
export function itemsOfUses(uses: readonly UseLeftAlone[]): Item[] {
  if (uses.length === 0) return [];
  return [
    { kind: "head", label: `Uses left alone · ${inFigures(uses.length)}` },
    ...uses.map((use): Item => ({ kind: "use", use })),
  ];
}

/** Files as they are best read: those that are left first, then the quiet ones, then those that are read. */
export function orderItems(files: readonly ReadingFile[]): Item[] {
  const { left, quiet, read } = inOrder(files);
  const list: Item[] = [];
  const part = (label: string, of: readonly ReadingFile[]) => {
    list.push({ kind: "head", label: `${label} · ${inFigures(of.length)}` });
    for (const file of of) list.push({ kind: "file", file, depth: null });
  };
  if (left.length > 0 || read.length + quiet.length === 0) part("To read", left);
  if (files.length === 0) list.push({ kind: "say", words: "Nothing differs here." });
  if (quiet.length > 0) part("Quiet", quiet);
  if (read.length > 0) part("Read", read);
  return list;
}

/** Files by folder. A folder that is closed hides what is in it, but for the file that is open. */
export function treeItems(files: readonly ReadingFile[], closed: ReadonlySet<string>, chosen: string | null): Item[] {
  const list: Item[] = [{ kind: "head", label: `Files · ${inFigures(files.length)}` }];
  if (files.length === 0) list.push({ kind: "say", words: "Nothing differs here." });
  let hidden: string | null = null;
  for (const branch of treeOf(files)) {
    const { depth } = branch;
    const path = branch.kind === "folder" ? branch.path : branch.file.path;
    if (hidden !== null && path.startsWith(hidden)) {
      if (branch.kind === "file" && path === chosen) list.push({ kind: "file", file: branch.file, depth });
      continue;
    }
    hidden = null;
    if (branch.kind === "file") list.push({ kind: "file", file: branch.file, depth });
    else {
      const open = !closed.has(path);
      list.push({
        kind: "folder",
        path,
        name: branch.name,
        depth,
        open,
        left: linesToRead(branch.files.filter(isLeft)),
      });
      if (!open) hidden = `${path}/`;
    }
  }
  return list;
}

/** Which threads are listed: all, one's own, those that wait for the author, those to settle, or those of one person. */
export type ThreadFilter = "all" | "mine" | "unanswered" | "settle" | `by ${string}`;

/** Whether a thread is one of those that a filter leaves. */
export function fits(thread: Thread, filter: ThreadFilter, view: ChangeView): boolean {
  if (filter === "mine") return thread.comments.some(({ by }) => by === view.me.id);
  if (filter === "unanswered") return waitsForAuthor(thread, view.author);
  if (filter === "settle") return thread.resolved === null && thread.weight === "settle";
  return filter === "all" || thread.comments.some(({ by }) => filter === `by ${by}`);
}

/** The threads that are open, and those that are resolved, under a head that opens them. */
export function threadItems(view: ChangeView, filter: ThreadFilter, settledOpen: boolean): Item[] {
  if (view.threads.length === 0) return [];
  const fitting = view.threads.filter((thread) => fits(thread, filter, view));
  const line = (thread: Thread): Item => ({ kind: "thread", thread });
  const open = fitting.filter(({ resolved }) => resolved === null);
  const settled = fitting.filter(({ resolved }) => resolved !== null);
  const list: Item[] = [
    { kind: "head", label: `Open threads · ${open.length}` },
    { kind: "filter" },
    ...open.map(line),
  ];
  if (settled.length === 0) return list;
  const head: Item = { kind: "head", label: `Resolved · ${settled.length}`, settled: true };
  return [...list, head, ...(settledOpen ? settled.map(line) : [])];
}
