"use client";
import { queryOptions, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { groupedBy } from "@/core/plain/grouped";
import { isTold } from "@/core/reading/files";
import { type PointNames, type Points, pointNames } from "@/core/reading/points";
import type { CountsLine, ReadingFile, ReadingView } from "@/core/views/api";
import { ask, askLines, type ChangePlace, reasonFrom } from "../../asking/ask";
import { Gathered } from "../../asking/gathered";
import { InTurn } from "../../asking/in-turn";
import { useAsked } from "../../asking/use-asked";
import { readingAsked } from "./reading-asked";

const NONE: string[] = [];
/** How long after a file was had before one to its end it is said so, in milliseconds, with others of that time. */
const AFTER = 1_000;

/** The files between two points, what is counted of them while the server compares, and which of them have been read. */
export function useReading(
  place: ChangePlace,
  points: Points,
  initial: ReadingView | null,
  tell: (words: string) => void,
) {
  const client = useQueryClient();
  const { from, to } = pointNames(points);
  const key = useMemo(() => ["reading", place, from, to], [place, from, to]);
  const asked = useMemo(() => ({ from, to }), [from, to]);
  const same = initial?.from === from && initial.to === to;
  const query = useAsked({
    queryKey: key,
    queryFn: ({ signal }) => {
      const [name, given] = readingAsked(place, asked);
      return ask(name, { ...given, signal });
    },
    initialData: same ? initial : undefined,
    // What is new to someone changes as they read; all else stays as it is.
    staleTime: from === "read" ? 0 : Number.POSITIVE_INFINITY,
    refetchOnMount: from === "read" && !same ? "always" : false,
  });
  // What was marked here counts whatever answer comes in later: it may have been asked for before. By the points, then by the path.
  const [own, setOwn] = useState<ReadonlyMap<string, ReadonlyMap<string, ReadingFile["read"]>>>(new Map());
  const told = query.data?.files;
  const mine = own.get(between(asked));
  const placeOf = useMemo(() => new Map(told?.map(({ path }, place) => [path, place])), [told]);
  const files = useMemo(() => {
    if (!told || !mine) return told;
    const marked = [...told];
    for (const [path, read] of mine) {
      const place = placeOf.get(path);
      if (place !== undefined && told[place].read !== read) marked[place] = { ...told[place], read };
    }
    return marked;
  }, [told, mine, placeOf]);
  const incomplete = query.data?.complete === false;

  // What is counted shows as it comes; when the whole is compared, it takes the place of the bare list.
  useEffect(() => {
    if (!incomplete) return;
    const stop = new AbortController();
    const take = (lines: CountsLine[]) =>
      client.setQueryData<ReadingView>(key, (now) => {
        if (!now || now.complete) return now;
        const counts = new Map(lines.flat().map((line) => [line.path, line.counts]));
        return {
          ...now,
          files: now.files.map((file) => (counts.has(file.path) ? { ...file, counts: counts.get(file.path)! } : file)),
        };
      });
    const follow = async () => {
      await askLines("GET /api/repos/{repo}/changes/{number}/counts", take, {
        parts: place,
        query: asked,
        signal: stop.signal,
      });
      const whole = await ask("GET /api/repos/{repo}/changes/{number}/reading", {
        parts: place,
        query: { ...asked, whole: "", brief: "" },
        signal: stop.signal,
      });
      client.setQueryData<ReadingView>(key, whole);
    };
    follow().catch((error) => {
      if (!stop.signal.aborted) tell(reasonFrom(error));
    });
    return () => stop.abort();
  }, [client, key, place, incomplete, tell, asked]);

  // A mark that is taken back at once does not come to the server before itself.
  const [marksTold] = useState(() => new InTurn());
  const marks = useRef(new Map<string, object>());
  const markRead = async (file: ReadingFile, revision: number, read: boolean) => {
    const name = between(asked);
    const { path, oldId, newId } = file;
    const edit = (state: ReadingFile["read"]) =>
      setOwn((now) => new Map(now).set(name, new Map(now.get(name)).set(path, state)));
    edit(read ? "read" : "unread");
    // It goes through although the page may be closed at once, unless it waits for one before it.
    const body = { path, oldId, newId, revision, read };
    marks.current.set(path, body);
    try {
      await marksTold.run(path, () =>
        ask("PUT /api/repos/{repo}/changes/{number}/read-marks", { parts: place, body, keepalive: true }),
      );
    } catch (error) {
      if (marks.current.get(path) === body) edit(file.read);
      tell(reasonFrom(error));
    }
  };

  /** Told of a file that was had before one to its end; nothing on the page depends on it, so a failure is let be. */
  const [looked] = useState(() => new Set<string>());
  const looks = useMemo(
    () =>
      new Gathered<{ path: string; revision: number }>((all) => {
        for (const [revision, some] of groupedBy(all, (one) => one.revision)) {
          const paths = some.map(({ path }) => path);
          ask("PUT /api/repos/{repo}/changes/{number}/read-marks", {
            parts: place,
            body: { paths, revision, looked: true },
            keepalive: true,
          }).catch(() => {
            for (const path of paths) looked.delete(lookOf(path, revision));
          });
        }
      }, AFTER),
    [place, looked],
  );
  useEffect(() => {
    addEventListener("pagehide", looks.now);
    return () => {
      removeEventListener("pagehide", looks.now);
      looks.now();
    };
  }, [looks]);
  const markLooked = (path: string, revision: number) => {
    const key = lookOf(path, revision);
    if (looked.has(key)) return;
    looked.add(key);
    looks.add({ path, revision });
  };

  return {
    files,
    complete: query.data?.complete ?? false,
    conflicts: query.data?.conflicts ?? NONE,
    leftOut: query.data?.leftOut ?? null,
    merged: query.data?.merged ?? 0,
    problem: query.error ? reasonFrom(query.error) : null,
    markRead,
    markLooked,
  };
}

function lookOf(path: string, revision: number): string {
  return `${revision} ${path}`;
}

/** One file of a reading, whose ids its list left untold. */
export function toldQuery(place: ChangePlace, points: Points, path: string) {
  const query = { ...pointNames(points), path };
  return queryOptions({
    queryKey: ["told", place, query],
    queryFn: async ({ signal }) => {
      const { files } = await ask("GET /api/repos/{repo}/changes/{number}/reading", { parts: place, query, signal });
      return files[0] ?? null;
    },
    staleTime: points.kind === "revision" && points.from === "read" ? 0 : Number.POSITIVE_INFINITY,
    gcTime: 120_000,
  });
}

/** How many more are told with one that is in sight. */
const MORE = 60;

/** Gives what has the ids told of a file that has come into sight, and of those that follow it, so that it opens with one question when it is chosen. */
export function useToldAhead(place: ChangePlace, points: Points): (inSight: readonly ReadingFile[]) => void {
  const client = useQueryClient();
  return useCallback(
    (inSight: readonly ReadingFile[]) => {
      // What is new to somebody changes as they read: it is asked for when it is wanted.
      if (points.kind === "revision" && points.from === "read") return;
      const keyOf = ({ path }: ReadingFile) => toldQuery(place, points, path).queryKey;
      const untold = inSight.find((file) => !isTold(file) && client.getQueryData(keyOf(file)) === undefined);
      if (!untold) return;
      const query = { ...pointNames(points), path: untold.path, next: String(MORE) };
      ask("GET /api/repos/{repo}/changes/{number}/reading", { parts: place, query }).then(
        ({ files }) => {
          for (const file of files) client.setQueryData(keyOf(file), file);
        },
        // Nothing on the page depends on it: what is chosen is asked for again.
        () => undefined,
      );
    },
    [client, place, points],
  );
}

/** The same file with the ids of its contents, once they are known; and why they cannot be, where that is so. */
export function useTold(
  place: ChangePlace,
  points: Points,
  file: ReadingFile | undefined,
): { told: ReadingFile | undefined; problem: string | null } {
  const isKnown = !file || isTold(file);
  const { data, error } = useAsked({ ...toldQuery(place, points, file?.path ?? ""), enabled: !isKnown });
  return useMemo(() => {
    if (!file || isKnown) return { told: file, problem: null };
    if (data) return { told: { ...file, oldId: data.oldId, newId: data.newId }, problem: null };
    const gone = data === null ? "This file is no longer among those compared: load the page again." : null;
    return { told: undefined, problem: error ? reasonFrom(error) : gone };
  }, [file, isKnown, data, error]);
}

/** What names one reading. */
function between({ from, to }: PointNames): string {
  return `${from} ${to}`;
}
