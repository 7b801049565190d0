"use client";
import { useCallback, useEffect, useRef } from "react";
import { type Anchor, pathOf, startOf } from "@/core/anchor/anchor";
import { isHomeless } from "@/core/anchor/anchor-history";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { positionOf } from "@/core/review/answered";
import { newest, type Thread } from "@/core/review/state";
import type { ReadingFile } from "@/core/views/api";
import type { Tell } from "../state/context";
import { placeIn } from "../state/places";
import type { Navigation } from "./use-navigation";

/** Going to threads, wherever their lines are now. `shown` is the revision that is shown; `openOther` opens a file that did not change. */
export function useThreadsWalk(
  { choose, chooseLine, activeThread, setActiveThread }: Navigation,
  view: ChangeView,
  files: ReadingFile[] | undefined,
  shown: number | null,
  openOther: (path: string) => Promise<boolean>,
  tell: Tell,
) {
  const goTo = useCallback(
    (written: Anchor, thread: string | null) => {
      setActiveThread(thread);
      const found = view.threads.find(({ id }) => id === thread);
      const anchor = found ? placeIn(found, view.histories, shown) : written;
      const homeless =
        found !== undefined && isHomeless(positionOf(found, view.histories, shown ?? newest(view).number));
      const path = pathOf(anchor);
      if (path === null) return choose(null, null, thread);
      const now = files?.find((other) => other.path === path || other.oldPath === path);
      const show = (where: string) =>
        anchor.kind === "lines"
          ? chooseLine(where, anchor.side, anchor.start, thread)
          : chooseLine(where, "new", 1, thread);
      if (now) return show(now.path);
      void openOther(path).then((opened) => {
        if (opened) show(path);
        else if (homeless) choose(null, null, thread);
        else tell(`${path} is not among the files now compared.`);
      });
    },
    [files, choose, chooseLine, setActiveThread, openOther, tell, view, shown],
  );
  // An address that names a thread leads to where its lines are now, whichever file that is.
  const landed = useRef(false);
  useEffect(() => {
    if (landed.current || !files) return;
    landed.current = true;
    const named = view.threads.find(({ id }) => id === activeThread);
    if (named) goTo(named.anchor, named.id);
  }, [files, view, activeThread, goTo]);
  /** To the next thread that fits, in the order of the files and of their lines. */
  const next = (fits: (thread: Thread) => boolean, none: string) => {
    const found = view.threads.filter(fits);
    if (found.length === 0) return tell(none);
    const order = new Map(files?.map(({ path }, i) => [path, i]));
    const here = new Map(found.map((thread) => [thread, placeIn(thread, view.histories, shown)]));
    const rank = (thread: Thread) => order.get(pathOf(here.get(thread)!) ?? "") ?? -1;
    const line = (thread: Thread) => startOf(here.get(thread)!);
    found.sort((a, b) => rank(a) - rank(b) || line(a) - line(b));
    const one = found[(found.findIndex(({ id }) => id === activeThread) + 1) % found.length];
    goTo(one.anchor, one.id);
  };
  return { goTo, next };
}
