"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { ReadingFile } from "@/core/api";
import { fittingColumns, oneColumn, twoColumns } from "@/core/reading/columns";
import {
  CONTEXT,
  FOLD,
  foldRows,
  GAP,
  type Interval,
  layRows,
  newLineNear,
  nextDifference,
  REMOVED,
  rowOfLine,
} from "@/core/reading/rows";
import { useNarrowerThan, useRemembered } from "../use-remembered";
import { useWorkspace } from "./context";
import { FileHead } from "./file-head";
import { InsteadOfText } from "./instead-of-text";
import { useKeys } from "./keys";
import { Lines } from "./lines";
import { Margin, type Placed } from "./margin";
import { hasRemarks, nameOfPlace, nameOfRow, topLine, widest } from "./places";
import { Scopes } from "./scopes";
import { useFile } from "./use-file";
import type { Points } from "./use-reading";

const LINE = 20;
const GAP_HEIGHT = 28;
const STEP = 20;
/** Width of one character of the code, in pixels: 12.5 px of a face whose characters are 0.6 wide. */
const COLUMN = 7.5;

/** How many columns: as fits what changed in a file, or always the same. */
export type ColumnChoice = "fit" | "one" | "two";

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
  const [wrapChoice, setWrapChoice] = useRemembered<"yes" | "no">("wrap", "no");
  const [columnsOfAll] = useRemembered<ColumnChoice>("columns", "fit");
  const [columnsHere, setColumnsHere] = useRemembered<ColumnChoice | "">(`columns ${change.id} ${file.path}`, "");
  const tight = useNarrowerThan(1_000);
  const wide = !useNarrowerThan(1_500);
  // Cards beside their lines are worth more than a second column; decided once, so that a new remark does not turn the page over.
  const [remarked] = useState(() => hasRemarks(change, file.path));
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

  const wanted = columnsHere === "" ? columnsOfAll : columnsHere;
  const columns =
    wanted === "fit"
      ? view && !tight && (wide || !remarked)
        ? fittingColumns(view.comparison)
        : 1
      : wanted === "two"
        ? 2
        : 1;
  const layout = useMemo(() => {
    if (!rows || !view) return null;
    if (columns === 1) return oneColumn(rows);
    return twoColumns(rows, new Map(view.comparison.pairs.map(({ old, next }) => [old, next])));
  }, [rows, view, columns]);
  // Half a page is too narrow for most lines: in two columns they always wrap, and the margin makes room.
  const wraps = wrapChoice === "yes" || columns === 2;
  const narrow = (columns === 2 && !wide) || tight;

  const width = useMemo(() => (text && view ? widest(text.next, view.removed) : 0), [text, view]);
  const virtual = useVirtualizer({
    count: layout?.count ?? 0,
    getScrollElement: () => scroller.current,
    estimateSize: useCallback(
      (place: number) => {
        const row = layout ? Math.max(layout.left[place], layout.right[place]) : 0;
        return (rows?.kind[row] ?? 0) >= GAP ? GAP_HEIGHT : LINE;
      },
      [rows, layout],
    ),
    overscan: 24,
  });
  // Sizes depend on what each row is, so a new layout is measured anew.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the rows are what changes
  useLayoutEffect(() => virtual.measure(), [layout, virtual, wraps]);

  const rowTop = useCallback(
    (side: "old" | "new", line: number): number | null => {
      if (!rows) return null;
      const row = rowOfLine(rows, side, line - 1);
      if (row < 0 || !layout) return null;
      const place = layout.placeOf[row];
      return virtual.measurementsCache[place]?.start ?? place * LINE;
    },
    [rows, layout, virtual],
  );

  const show = useCallback(
    (row: number, align: "auto" | "center" = "auto") => {
      setCursor(row);
      if (layout && row >= 0) virtual.scrollToIndex(layout.placeOf[row], { align });
    },
    [layout, virtual],
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
      show(row, "center");
    } else {
      const line = target.side === "new" ? target.line - 1 : newLineNear(hunks, target.line - 1);
      setOpened((now) => (now.some(([from, to]) => from <= line && line < to) ? now : [...now, [line - 3, line + 4]]));
    }
  }, [target, rows, hunks, show]);

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
    else show(row, "center");
  };
  const move = (by: number) => {
    if (!layout || layout.count === 0) return;
    const place = Math.max(0, Math.min(layout.count - 1, (cursor < 0 ? 0 : layout.placeOf[cursor]) + by));
    // In two columns the cursor stays on its side where it can.
    const onLeft = cursor >= 0 && rows?.kind[cursor] === REMOVED;
    const [first, second] = onLeft
      ? [layout.left[place], layout.right[place]]
      : [layout.right[place], layout.left[place]];
    show(first >= 0 ? first : second);
  };
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
    l: () => setWrapChoice(wrapChoice === "yes" ? "no" : "yes"),
    k: () => setColumnsHere(columns === 2 ? "one" : "two"),
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
        wrap={wrapChoice === "yes"}
        onWrap={columns === 2 ? null : () => setWrapChoice(wrapChoice === "yes" ? "no" : "yes")}
        columns={columns}
        onColumns={() => setColumnsHere(columns === 2 ? "one" : "two")}
        raw={raw}
        onRaw={() => onRaw(!raw)}
        whole={whole}
        onWhole={() => setWhole((now) => !now)}
        onReadNext={onReadNext}
        onUnread={onUnread}
      />
      {text && rows && layout && (
        <Scopes
          lines={text.next}
          line={topLine(rows, layout, virtual.scrollOffset ?? 0, virtual.getVirtualItems())}
          onGo={(line) => onJump(file.path, "new", line + 1)}
        />
      )}
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-auto bg-page outline-none"
        tabIndex={-1}
        data-testid="scroller"
      >
        <div className={`flex min-h-full ${wraps ? "" : "min-w-fit"}`}>
          <div
            role="grid"
            aria-label={`Lines of ${file.path}`}
            aria-rowcount={layout?.count ?? 0}
            aria-activedescendant={layout && cursor >= 0 ? nameOfPlace(layout, cursor) : undefined}
            tabIndex={0}
            className="relative flex-1 bg-paper"
            style={{
              ["--number-width" as string]: `${digits * 7 + 14}px`,
              minWidth: wraps ? 0 : Math.ceil(Math.min(width, 2_040) * COLUMN) + digits * 14 + 28 + 60,
              minHeight: Math.max(height, marginHeight),
            }}
          >
            <InsteadOfText
              {...{ file, view, error, textless }}
              repository={change.repository}
              empty={rows?.count === 0}
            />
            {rows && layout && text && view && !view.untold && (
              <Lines
                {...{ file, rows, layout, text, colours, marks, classes, columns, cursor, anchored, onJump }}
                items={virtual.getVirtualItems()}
                measure={wraps ? virtual.measureElement : null}
                onRemark={remark}
                onChoose={setCursor}
                onOpenGap={openGap}
                onOpenFold={openFold}
              />
            )}
          </div>
          <Margin file={file} narrow={narrow} rowTop={rowTop} onPlaced={setPlaced} onHeight={setMarginHeight} />
        </div>
      </div>
    </section>
  );
}
