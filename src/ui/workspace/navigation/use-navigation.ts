"use client";
import { useCallback, useEffect, useRef, useState } from "react";
import type { ChangeView } from "@/core/endpoints/change-view";
import { type Points, pointNames } from "@/core/reading/points";

/** Stands for the first file of a reading that is still on its way. */
export const FIRST = "\0first";

/** A line to be shown. */
export interface Target {
  side: "old" | "new";
  /** 1-based. */
  line: number;
  thread: string | null;
  /** Differs from one jump to the next, so that the same place can be gone to twice. */
  jump: number;
}

/** What the address of the page names. */
export interface Address {
  file: string | null;
  /** "new:12" or "old:7". */
  line: string | null;
  thread: string | null;
}

export interface Navigation {
  points: Points;
  /** The path of the file that is open; null for the brief. */
  chosen: string | null;
  target: Target | null;
  activeThread: string | null;
  setActiveThread: (id: string | null) => void;
  choose: (path: string | null, at?: Target | null, thread?: string | null) => void;
  /** Shows a line of a file, also when it was gone to before. */
  chooseLine: (path: string, side: Target["side"], line: number, thread?: string | null) => void;
  setPoints: (points: Points) => void;
  /** The same, and away from the brief to the first file. */
  showPoints: (points: Points) => void;
}

/** What of the change set is open. The address of the page always names it, so that it can be sent to someone. */
export function useNavigation(view: ChangeView, first: Points, given: Address): Navigation {
  const [points, setPoints] = useState(first);
  const [chosen, setChosen] = useState<string | null>(given.file);
  const [target, setTarget] = useState<Target | null>(() => firstTarget(given, view));
  const [activeThread, setActiveThread] = useState<string | null>(given.thread);
  const jumps = useRef(1);

  const choose = useCallback((path: string | null, at: Target | null = null, thread: string | null = null) => {
    setChosen(path);
    setTarget(at);
    setActiveThread(thread);
  }, []);
  const chooseLine = useCallback(
    (path: string, side: Target["side"], line: number, thread: string | null = null) =>
      choose(path, { side, line, thread, jump: jumps.current++ }, thread),
    [choose],
  );
  const showPoints = useCallback((next: Points) => {
    setPoints(next);
    setChosen((now) => now ?? FIRST);
  }, []);

  useEffect(() => {
    const search = new URLSearchParams();
    const { from, to } = pointNames(points);
    if (from !== "base" || to !== `r${view.revisions.length}`) {
      search.set("from", from);
      search.set("to", to);
    }
    if (chosen && chosen !== FIRST) search.set("file", chosen);
    if (activeThread) search.set("thread", activeThread);
    else if (target) search.set("line", `${target.side}:${target.line}`);
    const text = search.toString();
    // The plain one of the browser: that of the framework would draw the whole page anew, and nothing on it depends on the address.
    const { history, location } = window;
    History.prototype.replaceState.call(history, history.state, "", text === "" ? location.pathname : `?${text}`);
  }, [points, chosen, target, activeThread, view.revisions.length]);

  return { points, chosen, target, activeThread, setActiveThread, choose, chooseLine, setPoints, showPoints };
}

function firstTarget({ line, thread }: Address, view: ChangeView): Target | null {
  const anchor = view.threads.find(({ id }) => id === thread)?.anchor;
  if (anchor?.kind === "lines") return { side: anchor.side, line: anchor.start, thread, jump: 0 };
  const [, side, number] = line?.match(/^(old|new):(\d+)$/) ?? [];
  return side ? { side: side as Target["side"], line: Number(number), thread: null, jump: 0 } : null;
}
