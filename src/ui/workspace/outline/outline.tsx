"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { ReadingFile } from "@/core/api";
import type { ChangeView } from "@/core/endpoints/change-view";
import { inOrder } from "@/core/reading/files";
import { type Thread, waitsForAuthor } from "@/core/review/state";
import { Key } from "../../key";
import { useRemembered } from "../../use-remembered";
import { byName, nameIn, useAttention, useChangeSet } from "../state/context";
import { Choice } from "./choice";
import { FileChoice } from "./file-choice";
import { ThreadChoice } from "./thread-choice";

type Item =
  | { kind: "brief" }
  | { kind: "head"; label: string; toggle?: () => void; open?: boolean }
  | { kind: "file"; file: ReadingFile }
  | { kind: "thread"; thread: Thread }
  | { kind: "filter" }
  | { kind: "say"; words: string };

/** Heights in pixels of the kinds that are not as high as a file's. */
const SIZES: Partial<Record<Item["kind"], number>> = { thread: 44, head: 34, filter: 32 };

/** The order of reading: the brief, files to read, files read, threads. */
export function Outline({
  files,
  chosen,
  onChoose,
}: {
  files: ReadingFile[] | undefined;
  chosen: string | null;
  onChoose: (path: string | null) => void;
}) {
  const { view } = useChangeSet();
  const { activeThread, goTo } = useAttention();
  const [settledOpen, setSettledOpen] = useState(false);
  const [filter, setFilter] = useRemembered<ThreadFilter>("threads", "all");
  const scroller = useRef<HTMLElement>(null);
  const items = useMemo(() => {
    const list: Item[] = [{ kind: "brief" }];
    const { left: unread, quiet, read } = inOrder(files ?? []);
    if (!files) list.push({ kind: "say", words: "Comparing …" });
    if (files && (unread.length > 0 || read.length + quiet.length === 0))
      list.push({ kind: "head", label: `To read · ${unread.length.toLocaleString("en")}` });
    if (files?.length === 0) list.push({ kind: "say", words: "Nothing differs here." });
    for (const file of unread) list.push({ kind: "file", file });
    if (quiet.length > 0) list.push({ kind: "head", label: `Quiet · ${quiet.length.toLocaleString("en")}` });
    for (const file of quiet) list.push({ kind: "file", file });
    if (read.length > 0) list.push({ kind: "head", label: `Read · ${read.length.toLocaleString("en")}` });
    for (const file of read) list.push({ kind: "file", file });
    const fitting = view.threads.filter((thread) => fits(thread, filter, view));
    const open = fitting.filter(({ resolved }) => resolved === null);
    const settled = fitting.filter(({ resolved }) => resolved !== null);
    if (view.threads.length > 0) {
      list.push({ kind: "head", label: `Open threads · ${open.length}` });
      list.push({ kind: "filter" });
    }
    for (const thread of open) list.push({ kind: "thread", thread });
    if (settled.length > 0) {
      list.push({
        kind: "head",
        label: `Resolved · ${settled.length}`,
        open: settledOpen,
        toggle: () => setSettledOpen((now) => !now),
      });
      if (settledOpen) for (const thread of settled) list.push({ kind: "thread", thread });
    }
    return list;
  }, [files, view, settledOpen, filter]);

  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: useCallback((index: number) => SIZES[items[index].kind] ?? 27, [items]),
    overscan: 12,
    getItemKey: useCallback((index: number) => keyOf(items[index], index), [items]),
  });
  const at = items.findIndex((item) => item.kind === "file" && item.file.path === chosen);
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: "auto" });
  }, [at, virtual]);

  return (
    <nav
      ref={scroller}
      aria-label="Outline"
      className="w-[246px] flex-none overflow-y-auto border-r border-rule bg-page py-2 max-[1000px]:w-[190px]"
    >
      <div className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(({ index, start, size, key }) => {
          const item = items[index];
          return (
            <div
              key={key}
              className="absolute left-0 w-full"
              style={{ height: size, transform: `translateY(${start}px)` }}
            >
              {item.kind === "brief" && (
                <Choice chosen={chosen === null} onClick={() => onChoose(null)}>
                  <span className="font-serif text-[15px]">Brief</span>
                  <span className="flex-1" />
                  <Key>B</Key>
                </Choice>
              )}
              {item.kind === "head" && <Head {...item} />}
              {item.kind === "filter" && <Filter filter={filter} onFilter={setFilter} />}
              {item.kind === "say" && <p className="px-4 text-faint">{item.words}</p>}
              {item.kind === "file" && (
                <FileChoice
                  file={item.file}
                  chosen={item.file.path === chosen}
                  onClick={() => onChoose(item.file.path)}
                />
              )}
              {item.kind === "thread" && (
                <ThreadChoice
                  thread={item.thread}
                  name={nameIn(view, item.thread.comments[0].by)}
                  chosen={activeThread === item.thread.id}
                  onClick={() => goTo(item.thread.anchor, item.thread.id)}
                />
              )}
            </div>
          );
        })}
      </div>
    </nav>
  );
}

/** Which threads are listed: all, one's own, those that wait for the author, those to settle, or those of one person. */
type ThreadFilter = "all" | "mine" | "unanswered" | "settle" | `by ${string}`;

function fits(thread: Thread, filter: ThreadFilter, view: ChangeView): boolean {
  if (filter === "mine") return thread.comments.some(({ by }) => by === view.me.id);
  if (filter === "unanswered") return waitsForAuthor(thread, view.author);
  if (filter === "settle") return thread.resolved === null && thread.weight === "settle";
  return filter === "all" || thread.comments.some(({ by }) => filter === `by ${by}`);
}

function Filter({ filter, onFilter }: { filter: ThreadFilter; onFilter: (filter: ThreadFilter) => void }) {
  const { view } = useChangeSet();
  const people = [...new Set(view.threads.flatMap(({ comments }) => comments.map(({ by }) => by)))];
  return (
    <div className="px-4">
      <select
        aria-label="Which threads"
        className="field w-full py-0.5 text-[13px]"
        value={filter}
        onChange={(event) => onFilter(event.target.value as ThreadFilter)}
      >
        <option value="all">all of them</option>
        <option value="mine">those I am in</option>
        <option value="unanswered">waiting for the author</option>
        <option value="settle">to settle before merging</option>
        {people.map((id) => (
          <option key={id} value={`by ${id}`}>
            with {byName(view, id)}
          </option>
        ))}
      </select>
    </div>
  );
}

function keyOf(item: Item, index: number): string {
  if (item.kind === "file") return `f${item.file.path}`;
  if (item.kind === "thread") return `t${item.thread.id}`;
  return `${item.kind}${index}`;
}

function Head({ label, toggle, open }: { label: string; toggle?: () => void; open?: boolean }) {
  const look = "flex h-full w-full items-end px-4 pb-1 text-[13px] font-semibold text-soft";
  if (!toggle) return <h2 className={look}>{label}</h2>;
  return (
    <button type="button" className={look} aria-expanded={open} onClick={toggle}>
      {label}{" "}
      <span aria-hidden className="ml-1">
        {open ? "▾" : "▸"}
      </span>
    </button>
  );
}
