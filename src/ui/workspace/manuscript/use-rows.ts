"use client";
import { useCallback, useMemo, useState } from "react";
import type { FileView } from "@/core/diff/view";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { type ColumnChoice, columnsOf, oneColumn, twoColumns } from "@/core/reading/columns";
import { isChanged } from "@/core/reading/files";
import { CONTEXT, foldRows, type Interval, indexRows, layRows, newLineNear } from "@/core/reading/rows";
import type { FileClasses, ReadingFile } from "@/core/views/api";
import { useNarrowerThan, useRemembered } from "../../kept/use-remembered";
import type { Placed } from "../margin/use-entries";
import { hasRemarks } from "../state/places";
import { nameOfRow } from "./rows/rows-on-page";

interface RowsOf {
  change: ChangeView;
  /** The revision up to which is read; null while another state is shown. */
  shown: number | null;
  file: ReadingFile;
  view: FileView | undefined;
  classes: FileClasses;
  placed: readonly Placed[];
  /** Nothing is folded. */
  raw: boolean;
  /** A line that has to be in sight. */
  target: { side: "old" | "new"; line: number } | null;
}

/** Which rows of a file are shown and how they are put on the page: what is opened and unfolded, in one column or two, wrapped or not. */
export function useRows({ change, shown, file, view, classes, placed, raw, target }: RowsOf) {
  const [opened, setOpened] = useState<Interval[]>([]);
  const [whole, setWhole] = useState(!isChanged(file));
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const [wrapChoice, setWrapChoice] = useRemembered<"yes" | "no">("wrap", "no");
  const [columnsOfAll] = useRemembered<ColumnChoice>("columns", "fit");
  const [columnsHere, setColumnsHere] = useRemembered<ColumnChoice | "">(`columns ${change.id} ${file.path}`, "");
  const tight = useNarrowerThan(1_000);
  const wide = !useNarrowerThan(1_500);
  // Cards beside their lines are worth more than a second column; decided once, so that a new remark does not turn the page over.
  const [remarked] = useState(() => hasRemarks(change, file, shown));

  const hunks = view?.comparison.hunks;
  const rows = useMemo(() => {
    if (!view || !hunks) return null;
    const lines = view.comparison.newLines;
    const revealed = placed.flatMap(({ side, place }): Interval[] => {
      if (place.status === "gone") return [];
      const line = side === "new" ? place.start - 1 : newLineNear(hunks, place.start - 1);
      return [[line - 2, line + (place.end - place.start) + 3]];
    });
    const laid = layRows(hunks, lines, whole ? [[0, lines]] : [...opened, ...revealed], CONTEXT, classes.runs);
    if (raw || classes.runs.length === 0) return laid;
    const inSight = new Set(unfolded);
    for (const { side, place } of placed) if (place.status !== "gone") inSight.add(`${side}${place.start - 1}`);
    if (target) inSight.add(`${target.side}${target.line - 1}`);
    return foldRows(laid, classes.runs, (row) => inSight.has(nameOfRow(laid, row)));
  }, [view, hunks, opened, whole, placed, classes, raw, unfolded, target]);

  const wanted = columnsHere === "" ? columnsOfAll : columnsHere;
  const twoSided = file.oldId !== null && file.newId !== null;
  const columns = columnsOf(wanted, view?.comparison, { room: !tight && (wide || !remarked), twoSided });
  const layout = useMemo(() => {
    if (!rows || !view) return null;
    if (columns === 1) return oneColumn(rows);
    return twoColumns(rows, new Map(view.comparison.pairs.map(({ old, next }) => [old, next])));
  }, [rows, view, columns]);

  // Most files are never asked where a line is shown; a file of 200,000 rows is worth the waiting.
  const places = useMemo(() => {
    let index: ReturnType<typeof indexRows> | null = null;
    return () => {
      index ??= rows && indexRows(rows);
      return index;
    };
  }, [rows]);

  return {
    rows,
    /** The row of a line, by its side and 0-based number; undefined when it is not shown. */
    rowAt: useCallback((side: "old" | "new", line: number) => places()?.[side].get(line), [places]),
    layout,
    columns,
    // Half a page is too narrow for most lines: in two columns they always wrap, and the margin makes room.
    wraps: wrapChoice === "yes" || columns === 2,
    wrapChosen: wrapChoice === "yes",
    toggleWrap: () => setWrapChoice(wrapChoice === "yes" ? "no" : "yes"),
    /** Null for a file that is there on one side alone. */
    toggleColumns: twoSided ? () => setColumnsHere(columns === 2 ? "one" : "two") : null,
    narrow: (columns === 2 && !wide) || tight,
    whole,
    toggleWhole: () => setWhole((now) => !now),
    /** Shows lines of the new text, 0-based. */
    open: useCallback(
      (from: number, to: number) =>
        setOpened((now) => (now.some(([a, b]) => a <= from && to <= b) ? now : [...now, [from, to]])),
      [],
    ),
    unfold: useCallback((name: string) => setUnfolded((now) => new Set(now).add(name)), []),
  };
}
