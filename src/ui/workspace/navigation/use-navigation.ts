"use client";
import { useCallback, useEffect, useRef, useState } from "react";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { type Points, pointNames, readPoints, revisionOf } from "@/core/reading/points";

/** Stands for the first file of a reading that is still on its way. */
export const FIRST = "\0first";

/** A line to be shown. */
export interface Target {
  side: "old" | "new";
  /** 1-based. */
  line: number;
  thread: string | null;
  /** A name in the line of which it is asked what it means; none where that is not asked. */
  name?: string | null;
  /** Differs from one jump to the next, so that the same place can be gone to twice. */
  jump: number;
}

/** What the address of the page names. */
export interface Address {
  file: string | null;
  /** "new:12" or "old:7". */
  line: string | null;
  thread: string | null;
  /** A name in that line. */
  name: string | null;
}

/** A name that is asked about, in its line, 1-based. */
export type Named = Pick<Target, "side" | "line"> & { name: string };

export interface Navigation {
  points: Points;
  /** The revision that is read; while single commits are shown, the one that was shown before them: what came since was not looked at. */
  revision: number;
  /** The path of the file that is open; null for the brief. */
  chosen: string | null;
  target: Target | null;
  activeThread: string | null;
  setActiveThread: (id: string | null) => void;
  /** Says which name is asked about, for the address. */
  setNamed: (named: Named | null) => void;
  choose: (path: string | null, at?: Target | null, thread?: string | null) => void;
  /** Shows a line of a file, also when it was gone to before. */
  chooseLine: (path: string, side: Target["side"], line: number, thread?: string | null) => void;
  setPoints: (points: Points) => void;
  /** The same, and away from the brief to the first file. */
  showPoints: (points: Points) => void;
}

/** What of the change set is open. The address of the page always names it, so that it can be sent to someone; back and forward go through it. */
export function useNavigation(view: ChangeView, first: Points, given: Address): Navigation {
  const [points, setPoints] = useState(first);
  const shown = revisionOf(points);
  const [lastShown, setLastShown] = useState(shown ?? view.revisions.length);
  if (shown !== null && shown !== lastShown) setLastShown(shown);
  const revision = shown ?? lastShown;
  const [chosen, setChosen] = useState<string | null>(given.file);
  const [target, setTarget] = useState<Target | null>(() => firstTarget(given, view));
  const [activeThread, setActiveThread] = useState<string | null>(given.thread);
  const [named, setNamed] = useState<Named | null>(null);
  const jumps = useRef(1);
  // Every file that is opened says that no name of it is asked about: the page is not drawn again for that.
  const lastNamed = useRef(named);
  lastNamed.current = named;
  const sayNamed = useCallback((next: Named | null) => {
    if (next !== lastNamed.current) setNamed(next);
  }, []);

  const choose = useCallback((path: string | null, at: Target | null = null, thread: string | null = null) => {
    setChosen(path);
    setTarget(at);
    setNamed(null);
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

  // The address names what is open; what was open before is one step back, lines within a file aside; but from a name to
  // where it is defined or used, one comes back to the name.
  const last = useRef<(Pick<Navigation, "points" | "chosen" | "activeThread" | "target"> & { asked: boolean }) | null>(
    null,
  );
  useEffect(() => {
    const text = addressFor({ points, chosen, target, activeThread }, named, view.revisions.length);
    const before = last.current;
    last.current = { points, chosen, activeThread, target, asked: named !== null };
    const isLeap = before?.asked && target !== null && target !== before.target;
    const stays =
      before === null ||
      (samePlace(before, last.current) && before.activeThread === activeThread && !isLeap) ||
      // The first file that turns out to be there is no step of its own, and neither is the file that a thread turns out to be in.
      before.chosen === FIRST ||
      chosen === FIRST ||
      (before.chosen === null && activeThread !== null && before.activeThread === activeThread);
    const { history, location } = window;
    if (location.search === text) return;
    // The plain ones of the browser: those of the framework would draw the whole page anew, and nothing on it depends on the address.
    const { pushState, replaceState } = History.prototype;
    (stays ? replaceState : pushState).call(history, history.state, "", `${location.pathname}${text}`);
  }, [points, chosen, target, named, activeThread, view.revisions.length]);

  const latest = useRef(view);
  latest.current = view;
  useEffect(() => {
    const back = () => {
      const search = new URLSearchParams(window.location.search);
      const address = addressIn(search);
      const newest = `r${latest.current.revisions.length}`;
      const named = readPoints({ from: search.get("from") ?? "base", to: search.get("to") ?? newest });
      const next = named ?? first;
      const target = firstTarget(address, latest.current, jumps.current++);
      last.current = { points: next, chosen: address.file, activeThread: address.thread, target, asked: false };
      setPoints(next);
      setChosen(address.file);
      setTarget(target);
      setNamed(null);
      setActiveThread(address.thread);
    };
    window.addEventListener("popstate", back);
    return () => window.removeEventListener("popstate", back);
  }, [first]);

  return {
    points,
    revision,
    chosen,
    target,
    activeThread,
    setActiveThread,
    setNamed: sayNamed,
    choose,
    chooseLine,
    setPoints,
    showPoints,
  };
}

function samePlace(a: Pick<Navigation, "points" | "chosen">, b: Pick<Navigation, "points" | "chosen">): boolean {
  return a.chosen === b.chosen && JSON.stringify(a.points) === JSON.stringify(b.points);
}

function addressIn(search: URLSearchParams): Address {
  return { file: search.get("file"), line: search.get("line"), thread: search.get("thread"), name: search.get("name") };
}

/** What of the address names what is open: empty for all of the newest revision. */
function addressFor(
  { points, chosen, target, activeThread }: Pick<Navigation, "points" | "chosen" | "target" | "activeThread">,
  named: Named | null,
  newest: number,
): string {
  const search = new URLSearchParams();
  const { from, to } = pointNames(points);
  if (from !== "base" || to !== `r${newest}`) {
    search.set("from", from);
    search.set("to", to);
  }
  if (chosen && chosen !== FIRST) search.set("file", chosen);
  if (activeThread) search.set("thread", activeThread);
  else if (named) {
    search.set("line", `${named.side}:${named.line}`);
    search.set("name", named.name);
  } else if (target) search.set("line", `${target.side}:${target.line}`);
  return search.size === 0 ? "" : `?${search}`;
}

function firstTarget({ line, thread, name }: Address, view: ChangeView, jump = 0): Target | null {
  const anchor = view.threads.find(({ id }) => id === thread)?.anchor;
  if (anchor?.kind === "lines") return { side: anchor.side, line: anchor.start, thread, jump };
  const [, side, number] = line?.match(/^(old|new):(\d+)$/) ?? [];
  return side ? { side: side as Target["side"], line: Number(number), thread: null, name, jump } : null;
}
