"use client";
import { type MouseEvent, type RefObject, useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import { type NameInLine, namesInLine } from "@/core/reading/names-in-line";
import { FOLD, GAP, REMOVED, type Rows } from "@/core/reading/rows";
import type { ColoursView } from "@/core/views/api";
import type { Named, Target } from "../../navigation/use-navigation";

/** A name of a line of the manuscript that somebody asks about. */
export interface ChosenName extends NameInLine {
  side: "old" | "new";
  /** 1-based. */
  line: number;
}

interface Shown {
  rows: Rows | null;
  /** The row of a line, 0-based, as long as it is shown. */
  rowAt: (side: "old" | "new", line: number) => number | undefined;
  text: { next: string[]; old: (line: number) => string } | undefined;
  colours: ColoursView;
}

const HIGHLIGHT = "chosen-name";

/** Going from name to name in the line of the cursor, or picking one with the pointer. The one that is chosen is marked in its line. */
export function useNames(
  { rows, rowAt, text, colours }: Shown,
  cursor: number,
  scroller: RefObject<HTMLElement | null>,
  target: Target | null,
  onNamed: (named: Named | null) => void,
) {
  const [chosen, setChosen] = useState<ChosenName | null>(null);
  useEffect(() => onNamed(chosen), [chosen, onNamed]);

  const namesAt = useCallback(
    (row: number): ChosenName[] => {
      const kind = rows?.kind[row];
      if (!rows || !text || kind === undefined || kind === GAP || kind === FOLD) return [];
      const side = kind === REMOVED ? "old" : "new";
      const line = side === "old" ? rows.old[row] : rows.next[row];
      const words = (side === "old" ? text.old(line) : text.next[line]) ?? "";
      const runs = colours[side][line] ?? [];
      return namesInLine(words, runs).map((name) => ({ ...name, side, line: line + 1 }));
    },
    [rows, text, colours],
  );

  // An address may name one, also one that is come back to: it is chosen, once, when its line stands there.
  const answered = useRef<Target | null>(null);
  useEffect(() => {
    if (!target?.name || target === answered.current) return;
    const row = rowAt(target.side, target.line - 1);
    const named = row === undefined ? undefined : namesAt(row).find((one) => one.name === target.name);
    if (!named) return;
    setChosen(named);
    answered.current = target;
  }, [target, rowAt, namesAt]);

  /** The next name of the line, or the one before, going round; whether there is any. */
  const step = (by: 1 | -1): boolean => {
    const names = namesAt(cursor);
    if (names.length === 0) return false;
    const { side, line } = names[0];
    const isHere = chosen?.side === side && chosen.line === line;
    const at = isHere ? names.findIndex(({ from }) => from === chosen.from) : by > 0 ? -1 : 0;
    setChosen(names[(at + by + names.length) % names.length]);
    return true;
  };

  /** With the control or command key held, the name under the pointer. */
  const pick = (event: MouseEvent) => {
    if (!event.ctrlKey && !event.metaKey) return;
    const place = placeAt(event.clientX, event.clientY);
    const name = place && namesAt(place.row).find(({ from, to }) => from <= place.at && place.at <= to);
    if (!name) return;
    event.preventDefault();
    setChosen(name);
  };

  // The lines are drawn without it: only the browser marks it, where it can.
  useLayoutEffect(() => {
    if (typeof CSS === "undefined" || !CSS.highlights) return;
    CSS.highlights.delete(HIGHLIGHT);
    // Which row a line is may change as others open above it.
    const row = chosen && rowAt(chosen.side, chosen.line - 1);
    const code = chosen && scroller.current?.querySelector(`.code[data-row="${row}"][data-side="${chosen.side}"]`);
    const range = code && rangeIn(code, chosen.from, chosen.to);
    if (range) CSS.highlights.set(HIGHLIGHT, new Highlight(range));
  });
  useEffect(() => () => void (typeof CSS !== "undefined" && CSS.highlights?.delete(HIGHLIGHT)), []);

  return { chosen, step, pick, close: () => setChosen(null) };
}

/** The row and the place in its text that lie under a point of the page. */
function placeAt(x: number, y: number): { row: number; at: number } | null {
  const caret = document.caretRangeFromPoint?.(x, y);
  const node = caret?.startContainer;
  const code = (node instanceof Element ? node : node?.parentElement)?.closest(".code");
  if (!caret || !code) return null;
  const before = document.createRange();
  before.selectNodeContents(code);
  before.setEnd(caret.startContainer, caret.startOffset);
  return { row: Number(code.getAttribute("data-row")), at: before.toString().length };
}

/** A part of the text of an element, in characters. */
function rangeIn(element: Element, from: number, to: number): Range | null {
  const range = document.createRange();
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
  let at = 0;
  let begun = false;
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const length = node.textContent?.length ?? 0;
    if (!begun && from < at + length) {
      range.setStart(node, from - at);
      begun = true;
    }
    if (begun && to <= at + length) {
      range.setEnd(node, to - at);
      return range;
    }
    at += length;
  }
  return null;
}
