"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Points } from "@/core/reading/points";
import type { ReadingFile } from "@/core/views/api";
import { useBehindPicture } from "../../asking/use-behind-picture";
import { useNarrowerThan, useRemembered } from "../../kept/use-remembered";
import { Key } from "../../parts/key";
import { ACTIONS, keyLabel } from "../actions/actions";
import { useActions } from "../actions/use-actions";
import type { UseLeftAlone } from "../navigation/use-left-alone";
import { nameIn, useAttention, useChangeSet } from "../state/context";
import { Choice } from "./choice";
import { FileChoice } from "./file-choice";
import { FolderChoice } from "./folder-choice";
import { type Item, itemsOfUses, keyOf, orderItems, type ThreadFilter, threadItems, treeItems } from "./items";
import { Mark, marksOf } from "./mark";
import { ThreadChoice } from "./thread-choice";
import { ThreadFilterMenu } from "./thread-filter";
import { UseChoice } from "./use-choice";
import { useShape } from "./use-shape";

/** The height of a line for a file, in pixels. */
const ROW = 27;
/** Those of the kinds that are not as high. */
const SIZES: Partial<Record<Item["kind"], number>> = { thread: 44, head: 34, filter: 32, shape: 24 };
const MARK_SIZES: Partial<Record<Item["kind"], number>> = { head: 13, say: 0 };

/** So long, in milliseconds, has something been in sight that is not merely scrolled past. */
const STAYS = 60;

const WIDTH_KEY = keyLabel(ACTIONS["outline-narrow"].keys[0]);
const NONE_CLOSED: ReadonlySet<string> = new Set();

/** What there is to read: the brief, the files in the order of reading or by folder, threads. Drawn anew only when something of it changed. */
export const Outline = memo(function Outline({
  files: latest,
  points,
  uses,
  chosen,
  onChoose,
  onGo,
  onSeen,
}: {
  files: ReadingFile[] | undefined;
  /** Between which the files are. */
  points: Points;
  /** Uses of what changed that the change set leaves alone. */
  uses: readonly UseLeftAlone[];
  /** Shows a line of a file, changed or not. */
  onGo: (path: string, side: "old" | "new", line: number) => void;
  chosen: string | null;
  onChoose: (path: string | null) => void;
  /** Files have come into sight, and stay there. */
  onSeen: (files: readonly ReadingFile[]) => void;
}) {
  const files = useBehindPicture(latest, points);
  const { view } = useChangeSet();
  const { activeThread, goTo } = useAttention();
  const [settledOpen, setSettledOpen] = useState(false);
  const [filter, setFilter] = useRemembered<ThreadFilter>("threads", "all");
  const [shape, changeShape] = useShape();
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const scroller = useRef<HTMLElement>(null);
  const [width, setWidth] = useRemembered<"whole" | "marks">("outline width", "whole");
  // As a drawer over the page it has room enough.
  const drawer = useNarrowerThan(700);
  const narrow = width === "marks" && !drawer;
  const changeWidth = useCallback(() => setWidth(width === "marks" ? "whole" : "marks"), [width, setWidth]);
  useActions({ "outline-shape": changeShape, "outline-narrow": changeWidth });
  // A closed folder shows the file that is open; but for that the list stays as it is, whatever is open.
  const folded = narrow ? NONE_CLOSED : closed;
  const kept = shape === "tree" && folded.size > 0 ? chosen : null;
  const listed = useMemo(() => {
    if (!files) return [{ kind: "say", words: "Comparing …" } satisfies Item];
    return shape === "tree" ? treeItems(files, folded, kept) : orderItems(files);
  }, [files, shape, folded, kept]);
  const items = useMemo((): Item[] => {
    const all: Item[] = [
      { kind: "brief" },
      ...(files ? [{ kind: "shape" } as const] : []),
      ...listed,
      ...itemsOfUses(uses),
      ...threadItems(view, filter, settledOpen),
    ];
    return narrow ? marksOf(all) : all;
  }, [files, listed, uses, view, filter, settledOpen, narrow]);
  const toggle = (path: string) =>
    setClosed((now) => {
      const next = new Set(now);
      if (!next.delete(path)) next.add(path);
      return next;
    });

  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: useCallback(
      (index: number) => (narrow ? MARK_SIZES : SIZES)[items[index].kind] ?? ROW,
      [items, narrow],
    ),
    overscan: 12,
    // There are rows enough beyond what is in sight: none has to be drawn before the picture in which the list moves.
    useFlushSync: false,
    // Nothing here is measured, so that a place is told from the next by its number alone; another list is another way to number it.
    // biome-ignore lint/correctness/useExhaustiveDependencies: what stands at a place decides how high it is
    getItemKey: useCallback((index: number) => index, [items]),
    // Who walks through the files sees which come next.
    scrollPaddingStart: 2 * ROW,
    scrollPaddingEnd: 3 * ROW,
  });
  const pressed = useRef<string | null>(null);
  const at = useMemo(
    () => items.findIndex((item) => item.kind === "file" && item.file.path === chosen),
    [items, chosen],
  );
  useEffect(() => {
    // What is pressed stays where it is.
    const isPressed = pressed.current === chosen;
    pressed.current = null;
    if (at >= 0 && !isPressed) virtual.scrollToIndex(at, { align: "auto" });
  }, [at, chosen, virtual]);

  const first = virtual.range?.startIndex ?? 0;
  const last = virtual.range?.endIndex ?? 0;
  useEffect(() => {
    const inSight = items.slice(first, last + 1).flatMap((item) => (item.kind === "file" ? [item.file] : []));
    const timer = setTimeout(() => onSeen(inSight), STAYS);
    return () => clearTimeout(timer);
  }, [items, first, last, onSeen]);

  const chooseFile = useCallback(
    ({ path }: ReadingFile) => {
      pressed.current = path;
      onChoose(path);
    },
    [onChoose],
  );
  const choose = (item: Item) => {
    if (item.kind === "brief") onChoose(null);
    if (item.kind === "file") chooseFile(item.file);
    if (item.kind === "use") onGo(item.use.path, "new", item.use.line);
    if (item.kind === "thread") goTo(item.thread.anchor, item.thread.id);
  };
  const isChosen = (item: Item) =>
    item.kind === "brief"
      ? chosen === null
      : item.kind === "file"
        ? item.file.path === chosen
        : item.kind === "thread" && activeThread === item.thread.id;

  const of = (item: Item) => ({ chosen: isChosen(item), onClick: () => choose(item) });
  const whole = (item: Item) => {
    if (item.kind === "head")
      return (
        <Head
          label={item.label}
          {...(item.settled ? { open: settledOpen, toggle: () => setSettledOpen(!settledOpen) } : {})}
        />
      );
    if (item.kind === "shape")
      return (
        <p className="flex gap-2 px-4 pt-1 text-[12.5px]">
          {!drawer && (
            <button
              type="button"
              className="quiet-button"
              title={`Narrow the outline (${WIDTH_KEY})`}
              onClick={changeWidth}
            >
              narrow
            </button>
          )}
          <span className="flex-1" />
          {files && files.length > 1 && (
            <button type="button" className="quiet-button" onClick={changeShape}>
              {shape === "tree" ? "list as best read" : "list by folder"}
            </button>
          )}
        </p>
      );
    if (item.kind === "folder") return <FolderChoice {...item} onClick={() => toggle(item.path)} />;
    if (item.kind === "filter") return <ThreadFilterMenu filter={filter} onFilter={setFilter} />;
    if (item.kind === "say") return <p className="px-4 text-faint">{item.words}</p>;
    if (item.kind === "file")
      return <FileChoice chosen={isChosen(item)} file={item.file} depth={item.depth} onChoose={chooseFile} />;
    if (item.kind === "use") return <UseChoice {...of(item)} use={item.use} />;
    if (item.kind === "thread")
      return <ThreadChoice {...of(item)} thread={item.thread} name={nameIn(view, item.thread.comments[0].by)} />;
    return (
      <Choice {...of(item)}>
        <span className="font-serif text-[15px]">Brief</span>
        <span className="flex-1" />
        <Key>B</Key>
      </Choice>
    );
  };

  return (
    <nav
      ref={scroller}
      aria-label="Outline"
      className={`flex-none overflow-y-auto border-r border-rule bg-page py-2 ${narrow ? "w-[52px] [scrollbar-width:none]" : "w-[246px] max-[1000px]:w-[190px] max-[700px]:w-full"}`}
    >
      {narrow && (
        <button
          type="button"
          className="quiet-button block h-[27px] w-full text-center"
          aria-label="Open the outline"
          title={`Open the outline (${WIDTH_KEY})`}
          onClick={changeWidth}
        >
          <span aria-hidden>»</span>
        </button>
      )}
      <div className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(({ index, start, size }) => {
          const item = items[index];
          return (
            <div
              key={keyOf(item, index)}
              className="absolute left-0 w-full"
              style={{ height: size, transform: `translateY(${start}px)` }}
            >
              {narrow ? <Mark {...of(item)} item={item} /> : whole(item)}
            </div>
          );
        })}
      </div>
    </nav>
  );
});

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
