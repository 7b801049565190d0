"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { anchorName, anchorPlace, pathOf, startOf } from "@/core/anchor/anchor";
import type { ReadingFile } from "@/core/api";
import { visible } from "@/core/cautions/visible";
import { isImagePath } from "@/core/diff/tree";
import type { ChangeView } from "@/core/endpoints/change-view";
import { inOrder, needsReading } from "@/core/reading/files";
import { positionOf } from "@/core/review/answered";
import { lastWord, type Thread, waitsForAuthor } from "@/core/review/state";
import { counted } from "@/core/words";
import { Key } from "../../key";
import { useRemembered } from "../../use-remembered";
import { byName, nameIn, useAttention, useChangeSet } from "../state/context";
import { placeIn } from "../state/places";

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

function Choice({
  chosen,
  onClick,
  title,
  children,
}: {
  chosen: boolean;
  onClick: () => void;
  title?: string;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      title={title}
      aria-current={chosen ? "true" : undefined}
      onClick={onClick}
      className={`flex h-full w-full items-center gap-2 px-4 text-left text-[13.5px] ${chosen ? "bg-brass-wash shadow-[inset_3px_0_0_var(--brass)]" : "hover:bg-well"}`}
    >
      {children}
    </button>
  );
}

function FileChoice({ file, chosen, onClick }: { file: ReadingFile; chosen: boolean; onClick: () => void }) {
  const slash = file.path.lastIndexOf("/") + 1;
  const folder = file.path.slice(0, slash);
  const state = file.read === "read" ? "read" : file.read === "changed" ? "changed since you read it" : "to read";
  return (
    <Choice chosen={chosen} onClick={onClick} title={`${visible(file.path)}: ${state}`}>
      <span aria-hidden className="relative h-3.5 w-1 flex-none overflow-hidden rounded-sm bg-rule">
        <span
          className="absolute inset-x-0 bottom-0 bg-brass"
          style={{ height: file.read === "read" ? "100%" : file.read === "changed" ? "50%" : 0 }}
        />
      </span>
      <span className="sr-only">{state}:</span>
      <span className={`flex min-w-0 flex-1 ${file.read === "read" ? "text-soft" : ""}`}>
        <span className="min-w-0 truncate text-faint">{visible(folder)}</span>
        <span className="max-w-full flex-none truncate">{visible(file.path.slice(slash))}</span>
      </span>
      {file.cautions.length > 0 && (
        <span className="flex-none text-clay" title={file.cautions.map(({ says }) => visible(says)).join(" ")}>
          <span aria-hidden>⚠</span>
          <span className="sr-only">{counted(file.cautions.length, "caution")}</span>
        </span>
      )}
      {file.read === "changed" && <span className="flex-none text-[11.5px] text-brass">again</span>}
      <Amount file={file} />
    </Choice>
  );
}

/** How much of a file there is to read; for a quiet one why there is nothing. */
function Amount({ file }: { file: ReadingFile }) {
  if (file.toRead === null)
    return <span className="flex-none text-faint">{file.counts ? file.counts[0] + file.counts[1] : "…"}</span>;
  if (file.toRead > 0)
    return <span className="flex-none text-[12.5px] font-semibold text-brass">{file.toRead.toLocaleString("en")}</span>;
  const look = needsReading(file) ? "font-semibold text-brass" : "text-soft";
  return <span className={`flex-none text-[11.5px] ${look}`}>{whyQuiet(file)}</span>;
}

function whyQuiet(file: ReadingFile): string {
  if (file.lock) return "lockfile";
  if (file.generated) return file.generated;
  const [most] = Object.entries(file.quiet).sort((a, b) => b[1] - a[1]);
  if (most) return most[0];
  if (file.oldPath !== null) return file.copy ? "copied" : "renamed";
  if (file.oldMode !== file.newMode && file.oldId === file.newId) return "mode";
  return isImagePath(file.path) ? "image" : file.binary ? "no text" : "empty";
}

function ThreadChoice({
  thread,
  name,
  chosen,
  onClick,
}: {
  thread: Thread;
  name: string;
  chosen: boolean;
  onClick: () => void;
}) {
  const last = lastWord(thread.comments);
  const { view } = useChangeSet();
  const { shown } = useAttention();
  const anchor = placeIn(thread, view.histories, shown);
  const position = shown === null ? null : positionOf(thread, view.histories, shown);
  const path = pathOf(anchor);
  const file = path === null ? anchorPlace(anchor) : path.slice(path.lastIndexOf("/") + 1);
  return (
    <Choice chosen={chosen} onClick={onClick} title={anchorName(anchor)}>
      <span className="min-w-0 flex-1">
        <span className="block truncate text-soft">
          {name} · {file} {position?.status === "gone" ? "gone" : startOf(anchor) || ""}
          {position?.status === "edited" && ", edited"}
        </span>
        <span className="block truncate">{last.body || "suggestion"}</span>
      </span>
    </Choice>
  );
}
