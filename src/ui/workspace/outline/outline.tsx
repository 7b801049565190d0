"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { ReadingFile } from "@/core/api";
import { visible } from "@/core/cautions/visible";
import { Key } from "../../key";
import { useRemembered } from "../../use-remembered";
import { useActions } from "../actions/use-actions";
import type { UseLeftAlone } from "../navigation/use-left-alone";
import { byName, nameIn, useAttention, useChangeSet } from "../state/context";
import { Choice } from "./choice";
import { Cut } from "./cut";
import { FileChoice } from "./file-choice";
import { FolderChoice } from "./folder-choice";
import { type Item, itemsOfUses, keyOf, orderItems, type ThreadFilter, threadItems, treeItems } from "./items";
import { ThreadChoice } from "./thread-choice";
import { useShape } from "./use-shape";

/** Heights in pixels of the kinds that are not as high as a file's. */
const SIZES: Partial<Record<Item["kind"], number>> = { thread: 44, head: 34, filter: 32, shape: 24 };

/** What there is to read: the brief, the files in the order of reading or by folder, threads. Drawn anew only when something of it changed. */
export const Outline = memo(function Outline({
  files,
  uses,
  chosen,
  onChoose,
  onGo,
}: {
  files: ReadingFile[] | undefined;
  /** Uses of what changed that the change set leaves alone. */
  uses: readonly UseLeftAlone[];
  /** Shows a line of a file, changed or not. */
  onGo: (path: string, side: "old" | "new", line: number) => void;
  chosen: string | null;
  onChoose: (path: string | null) => void;
}) {
  const { view } = useChangeSet();
  const { activeThread, goTo } = useAttention();
  const [settledOpen, setSettledOpen] = useState(false);
  const [filter, setFilter] = useRemembered<ThreadFilter>("threads", "all");
  const [shape, changeShape] = useShape();
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const scroller = useRef<HTMLElement>(null);
  useActions({ "outline-shape": changeShape });
  // A closed folder shows the file that is open; but for that the list stays as it is, whatever is open.
  const kept = shape === "tree" && closed.size > 0 ? chosen : null;
  const listed = useMemo(() => {
    if (!files) return [{ kind: "say", words: "Comparing …" } satisfies Item];
    return shape === "tree" ? treeItems(files, closed, kept) : orderItems(files);
  }, [files, shape, closed, kept]);
  const items = useMemo(
    (): Item[] => [
      { kind: "brief" },
      ...(files && files.length > 1 ? [{ kind: "shape" } as const] : []),
      ...listed,
      ...itemsOfUses(uses),
      ...threadItems(view, filter, settledOpen),
    ],
    [files, listed, uses, view, filter, settledOpen],
  );
  const toggle = (path: string) =>
    setClosed((now) => {
      const next = new Set(now);
      if (!next.delete(path)) next.add(path);
      return next;
    });

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
      className="w-[246px] flex-none overflow-y-auto border-r border-rule bg-page py-2 max-[1000px]:w-[190px] max-[700px]:w-full"
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
              {item.kind === "head" && (
                <Head
                  label={item.label}
                  {...(item.settled ? { open: settledOpen, toggle: () => setSettledOpen(!settledOpen) } : {})}
                />
              )}
              {item.kind === "shape" && (
                <p className="px-4 pt-1 text-right text-[12.5px]">
                  <button type="button" className="quiet-button" onClick={changeShape}>
                    {shape === "tree" ? "list as best read" : "list by folder"}
                  </button>
                </p>
              )}
              {item.kind === "folder" && <FolderChoice {...item} onClick={() => toggle(item.path)} />}
              {item.kind === "filter" && <Filter filter={filter} onFilter={setFilter} />}
              {item.kind === "say" && <p className="px-4 text-faint">{item.words}</p>}
              {item.kind === "file" && (
                <FileChoice
                  file={item.file}
                  chosen={item.file.path === chosen}
                  depth={item.depth}
                  onClick={() => onChoose(item.file.path)}
                />
              )}
              {item.kind === "use" && (
                <Choice
                  chosen={false}
                  onClick={() => onGo(item.use.path, "new", item.use.line)}
                  title={wordsOf(item.use)}
                >
                  <span className="flex min-w-0 flex-1">
                    <Cut name={visible(item.use.path.slice(item.use.path.lastIndexOf("/") + 1))} />
                  </span>
                  <span className="flex-none text-[12.5px] text-soft">{item.use.line}</span>
                </Choice>
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
});

function wordsOf({ name, path, line }: UseLeftAlone): string {
  return `${visible(name)} in ${visible(path)}, line ${line}: not in this change set`;
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
