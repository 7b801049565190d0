"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { ReadingFile } from "@/core/api";
import { isImagePath } from "@/core/diff/tree";
import { foldWords } from "@/core/reading/folds";
import {
  ADDED,
  CONTEXT,
  FOLD,
  foldRows,
  GAP,
  type Interval,
  layRows,
  newLineNear,
  nextDifference,
  REMOVED,
  type Rows,
  rowOfLine,
} from "@/core/reading/rows";
import { reasonFrom } from "../ask";
import { useRemembered } from "../use-remembered";
import { useWorkspace } from "./context";
import { FileHead } from "./file-head";
import { FoldRow } from "./fold-row";
import { GapRow } from "./gap-row";
import { Images } from "./images";
import { useKeys } from "./keys";
import { Margin, type Placed } from "./margin";
import { Row } from "./row";
import { Scopes } from "./scopes";
import { useFile } from "./use-file";
import type { Points } from "./use-reading";

const LINE = 20;
const GAP_HEIGHT = 28;
const STEP = 20;
/** Width of one character of the code, in pixels: 12.5 px of a face whose characters are 0.6 wide. */
const COLUMN = 7.5;

export interface Target {
  side: "old" | "new";
  /** 1-based. */
  line: number;
  thread: string | null;
  /** Differs from one jump to the next, so that the same place can be gone to twice. */
  jump: number;
}

interface ManuscriptProps {
  file: ReadingFile;
  address: string;
  points: Points;
  revision: number;
  /** Nothing is folded, in any file. */
  raw: boolean;
  onRaw: (raw: boolean) => void;
  /** Goes to a line of another place, perhaps in another file. */
  onJump: (path: string, side: "old" | "new", line: number) => void;
  target: Target | null;
  onReadNext: () => void;
  onUnread: () => void;
  /** The last difference was passed (1), or the first (-1). */
  onPast: (step: 1 | -1) => void;
}

/** One file to be read, with its margin. */
export function Manuscript(props: ManuscriptProps) {
  const { file, address, points, revision, raw, onRaw, onJump, target, onReadNext, onUnread, onPast } = props;
  const { view: change, startNote } = useWorkspace();
  const { view, text, error, textless, colours, classes } = useFile(change.repository, address, points, file);
  const [opened, setOpened] = useState<Interval[]>([]);
  const [whole, setWhole] = useState(false);
  const [wrap, setWrap] = useRemembered("wrap", false);
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const [cursor, setCursor] = useState(-1);
  const [placed, setPlaced] = useState<Placed[]>([]);
  const [marginHeight, setMarginHeight] = useState(0);
  const scroller = useRef<HTMLDivElement>(null);

  const hunks = view?.comparison.hunks;
  const rows = useMemo(() => {
    if (!view || !hunks) return null;
    const lines = view.comparison.newLines;
    const revealed = placed.flatMap(({ side, place }): Interval[] => {
      if (place.fate === "gone") return [];
      const line = side === "new" ? place.start - 1 : newLineNear(hunks, place.start - 1);
      return [[line - 2, line + (place.end - place.start) + 3]];
    });
    const laid = layRows(hunks, lines, whole ? [[0, lines]] : [...opened, ...revealed], CONTEXT, classes.runs);
    if (raw || classes.runs.length === 0) return laid;
    const inSight = new Set(unfolded);
    for (const { side, place } of placed) if (place.fate !== "gone") inSight.add(`${side}${place.start - 1}`);
    if (target) inSight.add(`${target.side}${target.line - 1}`);
    return foldRows(laid, classes.runs, (row) => inSight.has(nameOfRow(laid, row)));
  }, [view, hunks, opened, whole, placed, classes, raw, unfolded, target]);

  const marks = useMemo(() => {
    const old = new Map<number, number[]>();
    const next = new Map<number, number[]>();
    for (const pair of view?.comparison.pairs ?? []) {
      old.set(pair.old, pair.oldSpans);
      next.set(pair.next, pair.newSpans);
    }
    return { old, next };
  }, [view]);

  const width = useMemo(() => (text && view ? widest(text.next, view.removed) : 0), [text, view]);
  const virtual = useVirtualizer({
    count: rows?.count ?? 0,
    getScrollElement: () => scroller.current,
    estimateSize: useCallback((index: number) => ((rows?.kind[index] ?? 0) >= GAP ? GAP_HEIGHT : LINE), [rows]),
    overscan: 24,
  });
  // Sizes depend on what each row is, so a new layout is measured anew.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the rows are what changes
  useLayoutEffect(() => virtual.measure(), [rows, virtual, wrap]);

  const rowTop = useCallback(
    (side: "old" | "new", line: number): number | null => {
      if (!rows) return null;
      const row = rowOfLine(rows, side, line - 1);
      return row < 0 ? null : (virtual.measurementsCache[row]?.start ?? row * LINE);
    },
    [rows, virtual],
  );

  const show = useCallback(
    (row: number) => {
      setCursor(row);
      virtual.scrollToIndex(row, { align: "auto" });
    },
    [virtual],
  );

  // The first look at a file stands at its first difference.
  const looked = useRef(false);
  useEffect(() => {
    if (!rows || looked.current) return;
    looked.current = true;
    if (!target) setCursor(Math.max(0, nextDifference(rows, -1, 1)));
    scroller.current?.focus({ preventScroll: true });
  }, [rows, target]);

  // A line that somebody points at is shown as soon as it is laid out, and once only.
  const jumped = useRef(-1);
  useEffect(() => {
    if (!target || !rows || !hunks || jumped.current === target.jump) return;
    const row = rowOfLine(rows, target.side, target.line - 1);
    if (row >= 0) {
      jumped.current = target.jump;
      setCursor(row);
      virtual.scrollToIndex(row, { align: "center" });
    } else {
      const line = target.side === "new" ? target.line - 1 : newLineNear(hunks, target.line - 1);
      setOpened((now) => (now.some(([from, to]) => from <= line && line < to) ? now : [...now, [line - 3, line + 4]]));
    }
  }, [target, rows, hunks, virtual]);

  const openGap = useCallback(
    (index: number, how: "above" | "below" | "all") => {
      if (!rows) return;
      const from = rows.next[index];
      const to = from + rows.hidden[index];
      const interval: Interval = how === "all" ? [from, to] : how === "above" ? [from, from + STEP] : [to - STEP, to];
      setOpened((now) => [...now, interval]);
    },
    [rows],
  );

  const openFold = useCallback(
    (index: number) => {
      if (rows) setUnfolded((now) => new Set(now).add(nameOfRow(rows, index)));
    },
    [rows],
  );

  const remark = useCallback(
    (index: number, side: "old" | "new") => {
      if (!rows) return;
      const line = (side === "old" ? rows.old[index] : rows.next[index]) + 1;
      const blob = side === "old" ? file.oldId : file.newId;
      if (line < 1 || !blob || rows.kind[index] >= GAP) return;
      setCursor(index);
      startNote({ revision, blob, side, path: file.path, start: line, end: line });
    },
    [rows, file, revision, startNote],
  );

  const difference = (step: 1 | -1) => {
    if (!rows) return onPast(step);
    const row = nextDifference(rows, cursor, step);
    if (row < 0) onPast(step);
    else {
      setCursor(row);
      virtual.scrollToIndex(row, { align: "center" });
    }
  };
  const move = (by: number) => rows && show(Math.max(0, Math.min(rows.count - 1, cursor + by)));
  const nearestHidden = () => {
    if (!rows) return -1;
    for (let away = 0; away < rows.count; away++) {
      for (const row of [cursor + away, cursor - away])
        if (row >= 0 && row < rows.count && rows.kind[row] >= GAP) return row;
    }
    return -1;
  };
  useKeys({
    arrowdown: () => move(1),
    arrowup: () => move(-1),
    pagedown: () => move(25),
    pageup: () => move(-25),
    home: () => move(-Number.MAX_SAFE_INTEGER),
    end: () => move(Number.MAX_SAFE_INTEGER),
    d: () => difference(1),
    "shift d": () => difference(-1),
    o: () => {
      const row = nearestHidden();
      if (row < 0) return;
      if (rows?.kind[row] === FOLD) openFold(row);
      else openGap(row, "all");
    },
    "shift o": () => setWhole((now) => !now),
    v: () => onRaw(!raw),
    l: () => setWrap(!wrap),
    w: () => rows && cursor >= 0 && remark(cursor, rows.kind[cursor] === REMOVED ? "old" : "new"),
    m: onReadNext,
    u: onUnread,
  });

  const anchored = useMemo(() => {
    const set = new Set<string>();
    for (const { side, place } of placed)
      if (place.fate !== "gone") for (let l = place.start; l <= place.end; l++) set.add(`${side}${l}`);
    return set;
  }, [placed]);

  const digits = Math.max(3, String(Math.max(view?.comparison.oldLines ?? 0, view?.comparison.newLines ?? 0)).length);
  const height = virtual.getTotalSize();
  return (
    <section className="flex min-h-0 min-w-0 flex-1 flex-col" aria-label={file.path}>
      <FileHead
        file={file}
        comparison={view?.comparison}
        wrap={wrap}
        onWrap={() => setWrap(!wrap)}
        raw={raw}
        onRaw={() => onRaw(!raw)}
        whole={whole}
        onWhole={() => setWhole((now) => !now)}
        onReadNext={onReadNext}
        onUnread={onUnread}
      />
      {text && rows && (
        <Scopes
          lines={text.next}
          line={topLine(rows, virtual.scrollOffset ?? 0, virtual.getVirtualItems())}
          onGo={(line) => onJump(file.path, "new", line + 1)}
        />
      )}
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-auto bg-page outline-none"
        tabIndex={-1}
        data-testid="scroller"
      >
        <div className={`flex min-h-full ${wrap ? "" : "min-w-fit"}`}>
          <div
            role="grid"
            aria-label={`Lines of ${file.path}`}
            aria-rowcount={rows?.count ?? 0}
            aria-activedescendant={cursor >= 0 ? `row-${cursor}` : undefined}
            tabIndex={0}
            className="relative flex-1 bg-paper"
            style={{
              ["--number-width" as string]: `${digits * 7 + 14}px`,
              minWidth: wrap ? 0 : Math.ceil(Math.min(width, 2_040) * COLUMN) + digits * 14 + 28 + 60,
              minHeight: Math.max(height, marginHeight),
            }}
          >
            {error && <Note words={reasonFrom(error)} />}
            {textless && (
              <Note words={`A pointer into another repository: from ${short(file.oldId)} to ${short(file.newId)}.`} />
            )}
            {view?.comparison.binary && isImagePath(file.path) ? (
              <Images repository={change.repository} file={file} comparison={view.comparison} />
            ) : null}
            {view?.untold && !(view.comparison.binary && isImagePath(file.path)) && (
              <Note words={`${view.untold} ${sizes(view.comparison.oldSize, view.comparison.newSize)}`} />
            )}
            {view && !view.untold && rows?.count === 0 && <Note words="This file is empty." />}
            {!view && !error && !textless && <Note words="Comparing …" />}
            {rows &&
              text &&
              view &&
              !view.untold &&
              virtual.getVirtualItems().map(({ index, start }) => {
                const kind = rows.kind[index];
                const old = rows.old[index];
                const next = rows.next[index];
                const id = `row-${index}`;
                if (kind === FOLD) {
                  const run = classes.runs[rows.run[index]];
                  const words = foldWords(run, rows.hidden[index], classes, file.path, file.generated);
                  const end = words.otherEnd;
                  const jump = end ? () => onJump(end.path, run.side === "old" ? "new" : "old", end.start) : null;
                  return (
                    <FoldRow
                      key={id}
                      {...{ id, index, words, jump }}
                      top={start}
                      kind={run.class}
                      cursor={cursor === index}
                      onOpen={openFold}
                    />
                  );
                }
                if (kind === GAP) {
                  const place = { first: index === 0, last: index === rows.count - 1, cursor: cursor === index };
                  return (
                    <GapRow
                      key={id}
                      id={id}
                      index={index}
                      top={start}
                      hidden={rows.hidden[index]}
                      onOpen={openGap}
                      {...place}
                    />
                  );
                }
                return (
                  <Row
                    key={id}
                    id={id}
                    index={index}
                    top={start}
                    kind={kind}
                    oldNumber={kind === ADDED ? 0 : old + 1}
                    newNumber={kind === REMOVED ? 0 : next + 1}
                    text={(kind === REMOVED ? text.old(old) : text.next[next]) ?? ""}
                    runs={kind === REMOVED ? colours.old[old] : colours.next[next]}
                    spans={kind === REMOVED ? marks.old.get(old) : kind === ADDED ? marks.next.get(next) : undefined}
                    measure={wrap ? virtual.measureElement : null}
                    quiet={rows.run[index] >= 0 ? classes.runs[rows.run[index]].class : undefined}
                    cursor={cursor === index}
                    anchored={
                      anchored.has(kind === REMOVED ? `old${old + 1}` : `new${next + 1}`) ||
                      (kind !== ADDED && anchored.has(`old${old + 1}`))
                    }
                    onRemark={remark}
                    onChoose={setCursor}
                  />
                );
              })}
          </div>
          <Margin file={file} rowTop={rowTop} onPlaced={setPlaced} onHeight={setMarginHeight} />
        </div>
      </div>
    </section>
  );
}

function Note({ words }: { words: string }) {
  return <p className="px-6 py-8 font-sans text-soft">{words}</p>;
}

function short(id: string | null): string {
  return id ? id.slice(0, 10) : "nothing";
}

function sizes(old: number, next: number): string {
  const size = (bytes: number) =>
    bytes < 10_000 ? `${bytes.toLocaleString("en")} bytes` : `${Math.round(bytes / 1000).toLocaleString("en")} kB`;
  if (old === 0) return `It has ${size(next)}.`;
  if (next === 0) return `It had ${size(old)}.`;
  return `It went from ${size(old)} to ${size(next)}.`;
}

/** The new line at the top of what can be seen, 0-based; -1 when there is none. */
function topLine(rows: Rows, offset: number, items: readonly { index: number; end: number }[]): number {
  for (const { index, end } of items)
    if (end > offset && index < rows.count && rows.next[index] >= 0) return rows.next[index];
  return -1;
}

/** The line a row shows first, by its side and number: stays the same when rows come and go. */
function nameOfRow(rows: Rows, row: number): string {
  return rows.kind[row] === ADDED || rows.old[row] < 0 ? `new${rows.next[row]}` : `old${rows.old[row]}`;
}

/** The length of the longest line in columns, tabs as four; the number decides only how far one can scroll. */
function widest(lines: readonly string[], removed: string): number {
  let most = 0;
  const look = (line: string) => {
    if (line.length <= most / 4) return;
    let tabs = 0;
    for (let i = line.indexOf("\t"); i >= 0; i = line.indexOf("\t", i + 1)) tabs++;
    most = Math.max(most, line.length + 3 * tabs);
  };
  for (const line of lines) look(line);
  for (const line of removed.split("\n")) look(line);
  return most;
}
