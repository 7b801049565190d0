"use client";
import { useQueries } from "@tanstack/react-query";
import { useMemo, useRef } from "react";
import type { Anchor } from "@/core/anchor/anchor";
import { followLines, type Place } from "@/core/anchor/follow";
import type { Finding } from "@/core/checks/report";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { addTo, groupedBy } from "@/core/plain/grouped";
import { positionOf } from "@/core/review/answered";
import type { Thread } from "@/core/review/state";
import type { ReadingFile, UnsentRemark } from "@/core/views/api";
import type { FindingsView } from "@/core/views/keeping-view";
import { isIn, placeIn } from "../state/places";
import { fileQuery } from "../state/use-file";

/** A remark and where it stands in the file now. */
export interface Placed {
  id: string;
  side: "old" | "new";
  place: Place;
}

/** What stands in the margin: a thread, a remark that is not sent, or the remarks of a machine. */
export type MarginEntry = { id: string; anchor: Anchor } & (
  | { thread: Thread }
  | { note: UnsentRemark }
  | { machine: MachineFold }
  | { found: FoundFold }
);

/** What one check found in a file, on lines that are shown: one card until it is opened, then each by itself. */
export interface FoundFold {
  check: string;
  tool: string;
  findings: Finding[];
}

/** What checks found in a file, as entries: those of one tool folded together unless it was `unfolded`. */
export function foundEntries(
  found: readonly FindingsView[],
  file: ReadingFile,
  isShown: (line: number) => boolean,
  unfolded: ReadonlySet<string>,
): MarginEntry[] {
  const blob = file.newId;
  if (blob === null) return [];
  return found.flatMap(({ check, revision, findings }): MarginEntry[] => {
    const here = findings.filter(({ path, line }) => path === file.path && line !== null && isShown(line));
    return [...groupedBy(here, ({ tool }) => tool)].flatMap(([tool, some]): MarginEntry[] => {
      const entry = (findings: Finding[], name: string): MarginEntry => {
        const start = findings[0].line!;
        const anchor = {
          kind: "lines" as const,
          revision,
          blob,
          side: "new" as const,
          path: file.path,
          start,
          end: start,
          text: [],
        };
        return { id: name, anchor, found: { check, tool, findings } };
      };
      if (some.length < LEAST_FOLDED || !unfolded.has(`found ${check} ${tool}`))
        return [entry(some, `found ${check} ${tool}`)];
      return some.map((one, i) => entry([one], `found ${check} ${tool} ${i}`));
    });
  });
}

/** What one machine has to say about a file, folded into one card until it is opened. */
export interface MachineFold {
  by: string;
  threads: Thread[];
}

/** From so many remarks on a machine's are folded together. */
const LEAST_FOLDED = 2;

/** Everything that is said about a file. Machines whose remarks were `unfolded`, or one of whose is looked at, show each by itself. */
export function useEntries(
  view: ChangeView,
  file: ReadingFile,
  unfolded: ReadonlySet<string>,
  activeThread: string | null,
  revision: number | null,
): MarginEntry[] {
  return useMemo(() => {
    const here = view.threads.filter((thread) => isIn(placeIn(thread, view.histories, revision), file));
    const byMachine = new Map<string, Thread[]>();
    for (const thread of here) {
      const { by } = thread.comments[0];
      if (view.people[by]?.machine && !unfolded.has(by)) addTo(byMachine, by, thread);
    }
    const threads = here.flatMap((thread): MarginEntry[] => {
      const { by } = thread.comments[0];
      const fold = byMachine.get(by) ?? [];
      if (fold.length < LEAST_FOLDED || fold.some(({ id }) => id === activeThread))
        return [{ id: thread.id, anchor: thread.anchor, thread }];
      return fold[0] === thread ? [{ id: `machine ${by}`, anchor: thread.anchor, machine: { by, threads: fold } }] : [];
    });
    const notes = view.unsent.flatMap((note): MarginEntry[] =>
      note.kind === "remark" && isIn(placeIn(note, view.histories, revision), file)
        ? [{ id: note.id, anchor: note.anchor, note }]
        : [],
    );
    return [...threads, ...notes];
  }, [view.threads, view.unsent, view.people, view.histories, file, unfolded, activeThread, revision]);
}

/**
 * Where remarks stand in the file as it is read now, by their ids: told by the server between revisions; else found through the
 * differences between the state they were made on and this one. Those on the file as a whole, and those that are still being looked for,
 * are left out.
 */
export function useStandings(
  { repository, histories }: ChangeView,
  entries: readonly MarginEntry[],
  file: ReadingFile,
  revision: number | null,
): Map<string, Placed> {
  const { oldId, newId } = file;
  const told = useMemo(() => {
    const found = new Map<string, Placed>();
    for (const entry of entries) {
      const history = histories[entry.id];
      if (!history || revision === null || entry.anchor.kind !== "lines") continue;
      if (entry.anchor.blob === oldId || entry.anchor.blob === newId) continue;
      const position = positionOf(entry, histories, revision);
      if (!position) continue;
      const { status, start, end } = position;
      const place: Place =
        status === "gone" ? { status } : { status: status === "moved" ? "shifted" : status, start, end };
      found.set(entry.id, { id: entry.id, side: history.side, place });
    }
    return found;
  }, [entries, histories, revision, oldId, newId]);
  const ways = useMemo(() => {
    const found = new Map<string, { blob: string; now: string }>();
    for (const { id, anchor } of entries) {
      if (told.has(id)) continue;
      const now = anchor.kind === "lines" && (anchor.side === "old" ? oldId : newId);
      if (anchor.kind !== "lines" || !now || anchor.blob === oldId || anchor.blob === newId) continue;
      found.set(`${anchor.blob} ${now}`, { blob: anchor.blob, now });
    }
    return [...found.entries()];
  }, [entries, told, oldId, newId]);
  const hunks = useSame(
    useQueries({ queries: ways.map(([, { blob, now }]) => fileQuery(repository, blob, now)) }).map(
      ({ data }) => data?.comparison.hunks,
    ),
  );
  return useMemo(() => {
    const hunksOf = new Map(ways.map(([key], i) => [key, hunks[i]]));
    const placed = new Map(told);
    for (const { id, anchor } of entries) {
      if (anchor.kind !== "lines" || told.has(id)) continue;
      const { blob, side, start, end } = anchor;
      const now = side === "old" ? oldId : newId;
      const stays = { status: "unchanged" as const, start, end };
      if (blob === now) placed.set(id, { id, side, place: stays });
      else if (blob === oldId) placed.set(id, { id, side: "old", place: stays });
      else if (blob === newId) placed.set(id, { id, side: "new", place: stays });
      else if (now === null) placed.set(id, { id, side, place: { status: "gone" } });
      else {
        const way = hunksOf.get(`${blob} ${now}`);
        if (way) placed.set(id, { id, side, place: followLines(start, end, way) });
      }
    }
    return placed;
  }, [entries, told, oldId, newId, ways, hunks]);
}

/** The list given before, as long as it holds the same. */
function useSame<T>(list: T[]): T[] {
  const last = useRef(list);
  if (list.length !== last.current.length || list.some((item, i) => item !== last.current[i])) last.current = list;
  return last.current;
}
