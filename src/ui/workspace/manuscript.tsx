"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { CommitView, ReadingFile } from "@/core/api";
import type { ClassRun } from "@/core/quiet/classes";
import { FOLD, GAP, newLineNear, nextDifference, rowOfLine } from "@/core/reading/rows";
import { enclosingBlock } from "@/core/reading/scopes";
import type { Selection } from "@/core/reading/selection";
import { goesOn } from "@/core/review/state";
import type { ChangePlace } from "../ask";
import { Key } from "../key";
import { useRemembered } from "../use-remembered";
import { Cautions } from "./cautions";
import { useWorkspace } from "./context";
import { Evidence } from "./evidence";
import { FileHead } from "./file-head";
import { InsteadOfText } from "./instead-of-text";
import { useKeys } from "./keys";
import { Lines } from "./lines";
import { Margin } from "./margin";
import { nameOfPlace, nameOfRow, topLine, widest } from "./places";
import { Scopes } from "./scopes";
import { useCursor } from "./use-cursor";
import type { Placed } from "./use-entries";
import { useFile } from "./use-file";
import type { Points } from "./use-reading";
import { useRows } from "./use-rows";
import { VerifySheet } from "./verify-sheet";

const LINE = 20;
const GAP_HEIGHT = 28;
const STEP = 20;
/** How far beyond what can be seen the margin is drawn, in pixels, and after how much scrolling it is drawn anew. */
const SEEN = 500;
const PIECE = 150;
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
  /** All files now compared. */
  files: readonly ReadingFile[];
  place: ChangePlace;
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
  onCommit: (commit: CommitView) => void;
  /** The last line of the file has come into sight. */
  onEnd: () => void;
}

/** One file to be read, with its margin. */
export function Manuscript(props: ManuscriptProps) {
  const { file, files, place, points, revision, raw, onRaw, onJump, target, onReadNext, onUnread, onPast } = props;
  const { view: change, shown: upTo, startNote, tell } = useWorkspace();
  const [asText, setAsText] = useState(false);
  const [verified, setVerified] = useState<ClassRun | null>(null);
  const { view, text, error, colours, classes } = useFile(change.repository, place, points, file, asText);
  const [placed, setPlaced] = useState<Placed[]>([]);
  const [marginHeight, setMarginHeight] = useState(0);
  const [asking, setAsking] = useRemembered<"yes" | "no">("evidence", "no");
  const [hiding, setHiding] = useRemembered<"yes" | "no">("remarks hidden", "no");
  const [pointed, setPointed] = useState(-1);
  const scroller = useRef<HTMLDivElement>(null);
  const shown = useRows({ change, shown: upTo, file, view, classes, placed, raw, target });
  const { rows, rowAt: shownRow, layout, columns, wraps, open, unfold } = shown;
  const hunks = view?.comparison.hunks;

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
    count: layout?.count ?? 0,
    getScrollElement: () => scroller.current,
    estimateSize: useCallback(
      (place: number) => {
        const row = layout ? Math.max(layout.left[place], layout.right[place]) : 0;
        return (rows?.kind[row] ?? 0) >= GAP ? GAP_HEIGHT : LINE;
      },
      [rows, layout],
    ),
    overscan: 10,
  });
  // Sizes depend on what each row is, so a new layout is measured anew.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the rows are what changes
  useLayoutEffect(() => virtual.measure(), [layout, virtual, wraps]);

  const { onEnd } = props;
  const atEnd = layout !== null && layout.count > 0 && (virtual.range?.endIndex ?? -1) >= layout.count - 1;
  // biome-ignore lint/correctness/useExhaustiveDependencies: told when the end comes into sight
  useEffect(() => {
    if (atEnd) onEnd();
  }, [atEnd, file.path]);

  const rowTop = useCallback(
    (side: "old" | "new", line: number): number | null => {
      const row = shownRow(side, line - 1);
      if (row === undefined || !layout) return null;
      const place = layout.placeOf[row];
      return virtual.measurementsCache[place]?.start ?? place * LINE;
    },
    [shownRow, layout, virtual],
  );

  const scrollTo = useCallback(
    (row: number, centre: boolean) => {
      if (layout && row >= 0) virtual.scrollToIndex(layout.placeOf[row], { align: centre ? "center" : "auto" });
    },
    [layout, virtual],
  );
  const hold = useCursor(rows, layout, scrollTo);
  const { cursor, selection, choose, show, move } = hold;

  // The first look at a file stands at its first difference.
  const looked = useRef(false);
  useEffect(() => {
    if (!rows || looked.current) return;
    looked.current = true;
    if (!target) choose(Math.max(0, nextDifference(rows, -1, 1)));
    scroller.current?.focus({ preventScroll: true });
  }, [rows, target, choose]);

  // A line that somebody points at is shown as soon as it is laid out, and once only.
  const jumped = useRef(-1);
  useEffect(() => {
    if (!target || !rows || !hunks || jumped.current === target.jump) return;
    const row = rowOfLine(rows, target.side, target.line - 1);
    if (row >= 0) {
      jumped.current = target.jump;
      show(row, true);
    } else {
      const line = target.side === "new" ? target.line - 1 : newLineNear(hunks, target.line - 1);
      open(line - 3, line + 4);
    }
  }, [target, rows, hunks, show, open]);

  const openGap = useCallback(
    (index: number, how: "above" | "below" | "all") => {
      if (!rows) return;
      const from = rows.next[index];
      const to = from + rows.hidden[index];
      if (how === "all") open(from, to);
      else if (how === "above") open(from, from + STEP);
      else open(to - STEP, to);
    },
    [rows, open],
  );
  const openFold = useCallback(
    (index: number) => {
      if (rows) unfold(nameOfRow(rows, index));
    },
    [rows, unfold],
  );
  /** Opens the block around the cursor; the one around that when it is open already. */
  const openEnclosing = () => {
    if (!rows || !text || !hunks || cursor < 0) return;
    const row = rows.kind[cursor] === FOLD || rows.next[cursor] < 0 ? -1 : rows.next[cursor];
    const line = row >= 0 ? row : newLineNear(hunks, rows.old[cursor]);
    for (let within = 0; within < 40; within++) {
      const block = enclosingBlock(text.next, line, within);
      if (!block) break;
      for (let at = 0; at < rows.count; at++) {
        if (rows.kind[at] !== GAP || rows.next[at] >= block[1] || rows.next[at] + rows.hidden[at] <= block[0]) continue;
        return open(block[0], block[1]);
      }
    }
    tell("All that encloses this line is open.");
  };

  const verify = useCallback(
    (index: number) => {
      const run = rows && index >= 0 ? classes.runs[rows.run[index]] : undefined;
      if (run) setVerified(run);
      else tell("Nothing is folded here: go to a fold or a quiet line to verify it.");
    },
    [rows, classes, tell],
  );

  const remark = useCallback(
    (lines: Selection | null) => {
      const blob = lines?.side === "old" ? file.oldId : file.newId;
      if (!lines || !blob) return tell("Go to a line to remark on it; O opens what is folded or hidden.");
      const part = lines.start === lines.end ? chosenPart(lines) : undefined;
      startNote({ kind: "lines", revision, blob, path: pathOn(file, lines.side), ...lines, ...(part ? { part } : {}) });
    },
    [file, revision, startNote, tell],
  );

  const remarkOnFile = () => {
    const side = file.newId ? "new" : "old";
    const blob = file.newId ?? file.oldId;
    if (blob) startNote({ kind: "file", revision, blob, path: pathOn(file, side), side });
  };
  const release = useRef(() => {});
  release.current = () => remark(selection);
  const { grasp, stretch } = hold;
  const acts = useMemo(
    () => ({ onGrasp: grasp, onStretch: stretch, onRelease: () => release.current(), onChoose: choose }),
    [grasp, stretch, choose],
  );

  const difference = (step: 1 | -1) => {
    if (!rows) return onPast(step);
    const row = nextDifference(rows, cursor, step);
    if (row < 0) onPast(step);
    else show(row, true);
  };
  const nearestHidden = () => {
    if (!rows) return -1;
    for (let away = 0; away < rows.count; away++) {
      for (const row of [cursor + away, cursor - away])
        if (row >= 0 && row < rows.count && rows.kind[row] >= GAP) return row;
    }
    return -1;
  };
  const toggleAsking = () => setAsking(asking === "yes" ? "no" : "yes");
  useKeys({
    arrowdown: () => move(1),
    arrowup: () => move(-1),
    "shift arrowdown": () => move(1, true),
    "shift arrowup": () => move(-1, true),
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
    "shift o": shown.toggleWhole,
    e: openEnclosing,
    y: toggleAsking,
    z: () => verify(rows && rows.run[cursor] >= 0 ? cursor : nearestHidden()),
    v: () => onRaw(!raw),
    l: shown.toggleWrap,
    k: shown.toggleColumns,
    w: () => remark(selection),
    "shift w": remarkOnFile,
    h: () => setHiding(hiding === "yes" ? "no" : "yes"),
    m: onReadNext,
    u: onUnread,
    ...(hold.selecting ? { escape: () => choose(cursor) } : {}),
  });

  const anchored = useMemo(() => {
    const set = new Set<string>();
    for (const { side, place } of placed)
      if (place.fate !== "gone") for (let l = place.start; l <= place.end; l++) set.add(`${side}${l}`);
    return set;
  }, [placed]);

  const digits = Math.max(3, String(Math.max(view?.comparison.oldLines ?? 0, view?.comparison.newLines ?? 0)).length);
  const height = virtual.getTotalSize();
  const seenFrom = Math.floor((virtual.scrollOffset ?? 0) / PIECE) * PIECE;
  return (
    <section className="flex min-h-0 min-w-0 flex-1 flex-col" aria-label={file.path}>
      <FileHead
        file={file}
        comparison={view?.comparison}
        wrap={shown.wrapChosen}
        onWrap={columns === 2 ? null : shown.toggleWrap}
        columns={columns}
        onColumns={shown.toggleColumns}
        raw={raw}
        onRaw={() => onRaw(!raw)}
        whole={shown.whole}
        onWhole={shown.toggleWhole}
        onRemark={goesOn(change) && change.me.remark.may ? remarkOnFile : null}
        onReadNext={onReadNext}
        onUnread={onUnread}
      />
      <Cautions file={file} onGo={(line) => onJump(file.path, "new", line)} />
      {text && rows && layout && (
        <Scopes
          path={file.path}
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
            aria-multiselectable
            aria-activedescendant={layout && cursor >= 0 ? nameOfPlace(layout, cursor) : undefined}
            tabIndex={0}
            className="relative flex-1 bg-paper"
            style={{
              ["--number-width" as string]: `${digits * 7 + 14}px`,
              minWidth: wraps ? 0 : Math.ceil(Math.min(width, 2_040) * COLUMN) + digits * 14 + 28 + 60,
              minHeight: Math.max(height, marginHeight),
            }}
            onPointerOver={asking === "yes" ? (event) => setPointed(rowAt(event.target)) : undefined}
            onPointerLeave={() => setPointed(-1)}
          >
            <InsteadOfText
              {...{ file, view, error }}
              repository={change.repository}
              empty={rows?.count === 0}
              onAsText={() => setAsText(true)}
            />
            {rows && layout && text && view && !view.untold && (
              <Lines
                {...{ file, rows, layout, text, colours, marks, classes, columns, cursor, anchored, onJump }}
                selection={hold.selecting ? selection : null}
                items={virtual.getVirtualItems()}
                measure={wraps ? virtual.measureElement : null}
                acts={acts}
                onOpenGap={openGap}
                onOpenFold={openFold}
                onVerify={verify}
              />
            )}
          </div>
          {hiding === "yes" ? (
            <HiddenRemarks onShow={() => setHiding("no")} />
          ) : (
            <Margin
              file={file}
              narrow={shown.narrow}
              from={seenFrom - SEEN}
              to={seenFrom + SEEN + (scroller.current?.clientHeight ?? SEEN)}
              rowTop={rowTop}
              onPlaced={setPlaced}
              onHeight={setMarginHeight}
            />
          )}
        </div>
      </div>
      <VerifySheet
        run={verified}
        {...{ file, files, classes }}
        hunks={hunks ?? []}
        repository={change.repository}
        onClose={() => setVerified(null)}
      />
      {asking === "yes" && rows && text && view && !view.untold && (
        <Evidence
          {...{ place, points, file, view, text, rows, classes }}
          row={pointed >= 0 ? pointed : cursor}
          onCommit={props.onCommit}
          onClose={toggleAsking}
        />
      )}
    </section>
  );
}

/** Stands where the margin would, so that nobody wonders where the remarks are. */
function HiddenRemarks({ onShow }: { onShow: () => void }) {
  return (
    <aside
      aria-label="Remarks, hidden"
      className="sticky right-0 w-9 flex-none border-l border-rule bg-page pt-2 text-center"
    >
      <button
        type="button"
        className="text-faint hover:text-brass"
        title="The remarks are hidden: H shows them"
        onClick={onShow}
      >
        <span aria-hidden>✎̸</span>
        <span className="sr-only">Show the remarks</span>
        <span className="mt-1 block">
          <Key>H</Key>
        </span>
      </button>
    </aside>
  );
}

/** What a file is called on one side: before, it may have had another name. */
function pathOn({ path, oldPath }: ReadingFile, side: "old" | "new"): string {
  return side === "old" ? (oldPath ?? path) : path;
}

/** The part of a line that is marked with the mouse, in characters; undefined when it is none, or all, or elsewhere. */
function chosenPart({ side }: Selection): { from: number; to: number } | undefined {
  const chosen = window.getSelection();
  if (!chosen || chosen.isCollapsed || chosen.rangeCount === 0) return undefined;
  const range = chosen.getRangeAt(0);
  const code = (node: Node) => (node instanceof Element ? node : node.parentElement)?.closest(".row-cursor .code");
  const line = code(range.startContainer);
  if (!line || line !== code(range.endContainer) || (line.getAttribute("data-side") === "old") !== (side === "old"))
    return undefined;
  const before = range.cloneRange();
  before.selectNodeContents(line);
  before.setEnd(range.startContainer, range.startOffset);
  const from = before.toString().length;
  const length = range.toString().length;
  return length < (line.textContent ?? "").length ? { from, to: from + length } : undefined;
}

/** The row that an element of the page belongs to; -1 for none. */
function rowAt(target: EventTarget): number {
  const line = target instanceof Element ? target.closest("[data-row]") : null;
  return line ? Number(line.getAttribute("data-row")) : -1;
}
