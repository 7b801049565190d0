"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type Anchor, pathOf, startOf } from "@/core/anchor/anchor";
import { isHomeless } from "@/core/anchor/course";
import type { CommitView, ReadingView } from "@/core/api";
import { contentKey } from "@/core/diff/tree";
import type { ChangeAnswer } from "@/core/endpoints/change-parts";
import type { ChangeView } from "@/core/endpoints/change-view";
import { isLeft } from "@/core/reading/files";
import type { FoundPlace } from "@/core/reading/search";
import { standOf } from "@/core/review/answered";
import { goesOn, newest, type Thread, waitsForAuthor } from "@/core/review/state";
import { Key } from "../key";
import { SurroundingsContext } from "../markdown";
import { TopBar } from "../top-bar";
import { useRemembered } from "../use-remembered";
import { Brief } from "./brief";
import { CommandField, type Deed } from "./command-field";
import { WorkspaceContext, type WorkspaceState } from "./context";
import { Footing } from "./footing";
import { Header } from "./header";
import { useKeys } from "./keys";
import { KeysSheet } from "./keys-sheet";
import { Ladder } from "./ladder";
import { Manuscript, type Target } from "./manuscript";
import { MergeSheet } from "./merge-sheet";
import { Outline } from "./outline";
import { placeIn } from "./places";
import { RevisionsSheet } from "./revisions-sheet";
import { SearchSheet } from "./search-sheet";
import { SendReview } from "./send-review";
import { TakeSheet } from "./take-sheet";
import { useChange } from "./use-change";
import { pointsOfCommits, useCommits, useCommitWalk } from "./use-commits";
import { fileQuery } from "./use-file";
import { useNews } from "./use-news";
import { useOtherFiles } from "./use-other-files";
import { type Points, useReading } from "./use-reading";
import type { ColumnChoice } from "./use-rows";

/** Stands for the first file of a reading that is still on its way. */
const FIRST = "\0first";

type Opened = "send" | "take" | "merge" | "keys" | "command" | "search" | "revisions" | null;

export interface Address {
  file: string | null;
  /** "new:12" or "old:7". */
  line: string | null;
  thread: string | null;
}

/** Where a change set is read, remarked on and settled. */
export function Workspace({
  initial,
  reading: firstReading,
  address: given,
  me,
}: {
  initial: ChangeAnswer;
  reading: ReadingView;
  address: Address;
  me: { fullName: string };
}) {
  const client = useQueryClient();
  const [notice, setNotice] = useState<{ words: string; undo?: () => void } | null>(null);
  const tell = useCallback((words: string, undo?: () => void) => setNotice({ words, undo }), []);
  const conversation = useChange(initial, tell);
  const { view, place } = conversation;
  useNews(view, place, tell);
  const [points, setPoints] = useState<Points>({ from: firstReading.from, to: firstReading.to });
  const { files, complete, problem, conflicts, leftOut, merged, markRead, markLooked } = useReading(
    place,
    points,
    firstReading,
    tell,
  );
  const [chosen, setChosen] = useState<string | null>(given.file);
  const [target, setTarget] = useState<Target | null>(() => firstTarget(given, view));
  const [opened, setOpened] = useState<Opened>(null);
  const [activeThread, setActiveThread] = useState<string | null>(given.thread);
  const [raw, setRaw] = useState(false);
  const [columnsOfAll, setColumnsOfAll] = useRemembered<ColumnChoice>("columns", "fit");
  const jumps = useRef(1);

  useEffect(() => {
    if (!notice) return;
    const timer = setTimeout(() => setNotice(null), 9_000);
    return () => clearTimeout(timer);
  }, [notice]);

  // Of a commit that was just chosen the first file is shown, whichever it turns out to be.
  useEffect(() => {
    if (
      files &&
      files.length > 0 &&
      (chosen === FIRST ||
        (points.to.startsWith("at:") && chosen !== null && !files.some(({ path }) => path === chosen)))
    )
      setChosen(files[0].path);
  }, [files, chosen, points.to]);

  const index = files?.findIndex(({ path }) => path === chosen) ?? -1;
  const [others, openOther] = useOtherFiles(view);
  const file = files?.[index] ?? others.find(({ path }) => path === chosen);
  // While a single commit is shown, what is sent and marked concerns the newest revision.
  const shown = /^r\d+$/.test(points.to) ? Number(points.to.slice(1)) : null;
  const revision = shown ?? view.revisions.length;
  const commits = useCommits(place, revision);

  const choose = useCallback((path: string | null, at: Target | null = null, thread: string | null = null) => {
    setChosen(path);
    setTarget(at);
    setActiveThread(thread);
  }, []);

  // The address always names what is shown, so that it can be sent to someone.
  useEffect(() => {
    const search = new URLSearchParams();
    if (points.from !== "base" || points.to !== `r${view.revisions.length}`) {
      search.set("from", points.from);
      search.set("to", points.to);
    }
    if (chosen && chosen !== FIRST) search.set("file", chosen);
    if (activeThread) search.set("thread", activeThread);
    else if (target) search.set("line", `${target.side}:${target.line}`);
    const text = search.toString();
    // The plain one of the browser: that of the framework would draw the whole page anew, and nothing on it depends on the address.
    const { history, location } = window;
    History.prototype.replaceState.call(history, history.state, "", text === "" ? location.pathname : `?${text}`);
  }, [points, chosen, target, activeThread, view.revisions.length]);

  // The file that comes next is fetched while this one is read.
  const upcoming = files && nextIn(files, index, isLeft);
  useEffect(() => {
    if (upcoming)
      void client.prefetchQuery(
        fileQuery(
          view.repository,
          contentKey(upcoming.oldId, upcoming.oldMode),
          contentKey(upcoming.newId, upcoming.newMode),
        ),
      );
  }, [client, upcoming, view.repository]);

  const goTo = useCallback(
    (written: Anchor, thread: string | null) => {
      setActiveThread(thread);
      const found = view.threads.find(({ id }) => id === thread);
      const anchor = found ? placeIn(found, view.courses, shown) : written;
      const homeless = found !== undefined && isHomeless(standOf(found, view.courses, shown ?? newest(view).number));
      const path = pathOf(anchor);
      if (path === null) return choose(null, null, thread);
      const now = files?.find((other) => other.path === path || other.oldPath === path);
      const at =
        anchor.kind === "lines" ? { side: anchor.side, line: anchor.start } : { side: "new" as const, line: 1 };
      if (now) choose(now.path, { ...at, thread, jump: jumps.current++ }, thread);
      else
        openOther(path).then((found) => {
          if (found) choose(path, { ...at, thread, jump: jumps.current++ }, thread);
          else if (homeless) choose(null, null, thread);
          else tell(`${path} is not among the files now compared.`);
        });
    },
    [files, choose, openOther, tell, view, shown],
  );

  const step = (by: 1 | -1) => {
    if (!files || files.length === 0) return;
    const next = index + by;
    if (next >= files.length) tell("This is the last file.");
    else choose(next < 0 ? null : files[next].path);
  };
  const readNext = () => {
    if (!files || !file) return;
    // A single commit is one view of the files among others: having read it does not make a file read.
    if (points.to.startsWith("at:")) return step(1);
    if (file.read !== "read") void markRead(file, revision, true);
    const next = nextIn(files, index, (other) => isLeft(other) && other.path !== file.path);
    if (next) choose(next.path);
    else tell("That was the last one: everything that is to be read is read.");
  };
  const nextUnread = () => {
    const next = files && nextIn(files, index, (other) => isLeft(other) && other.path !== file?.path);
    if (next) choose(next.path);
    else tell(file && isLeft(file) ? "No other file is left to read." : "Nothing is left to read.");
  };
  const jump = (path: string, side: Target["side"], line: number) => {
    const now = files?.find((other) => other.path === path || other.oldPath === path);
    if (now) choose(now.path, { side, line, thread: null, jump: jumps.current++ });
    else tell(`${path} is not among the files now compared.`);
  };
  const nextThread = (fits: (thread: Thread) => boolean, none: string) => {
    const found = view.threads.filter(fits);
    if (found.length === 0) return tell(none);
    const order = new Map(files?.map(({ path }, i) => [path, i]));
    const here = new Map(found.map((thread) => [thread, placeIn(thread, view.courses, shown)]));
    const rank = (thread: Thread) => order.get(pathOf(here.get(thread)!) ?? "") ?? -1;
    const line = (thread: Thread) => startOf(here.get(thread)!);
    found.sort((a, b) => rank(a) - rank(b) || line(a) - line(b));
    const next = found[(found.findIndex(({ id }) => id === activeThread) + 1) % found.length];
    goTo(next.anchor, next.id);
  };
  const nextOpen = () => nextThread(({ resolved }) => resolved === null, "There is no open thread here.");
  const nextUnanswered = () =>
    nextThread((thread) => waitsForAuthor(thread, view.author), "No thread waits for the author’s answer.");
  const newToMe = { from: "read", to: `r${view.revisions.length}` };
  const toggle =
    points.from !== "base"
      ? () => setPoints({ from: "base", to: `r${revision}` })
      : goesOn(view) && view.revisions.length > 1 && view.me.id !== view.author
        ? () => setPoints(newToMe)
        : null;
  const showPoints = (next: Points) => {
    setPoints(next);
    if (chosen === null) setChosen(FIRST);
  };
  const showCommit = (commit: CommitView) => showPoints(pointsOfCommits(commit));
  const walk = useCommitWalk(commits, points, showPoints, tell);
  const nextColumns = () => {
    const next = columnsOfAll === "fit" ? "one" : columnsOfAll === "one" ? "two" : "fit";
    setColumnsOfAll(next);
    tell(
      next === "fit"
        ? "Each file in one column or two, as fits what changed in it."
        : `Every file in ${next === "one" ? "one column" : "two columns"}, unless you chose otherwise for it.`,
    );
  };
  const mayMerge = view.state === "open" && view.me.merge.may;
  const maySend = goesOn(view) && view.me.remark.may;

  useKeys({
    f: () => step(1),
    "shift f": () => step(-1),
    b: () => choose(null),
    t: nextOpen,
    q: nextUnanswered,
    p: () => view.picked.length > 0 && setOpened("take"),
    a: () => toggle?.(),
    "shift k": nextColumns,
    n: nextUnread,
    c: () => walk.step(1),
    "shift c": () => walk.step(-1),
    g: () => walk.grow(1),
    "shift g": () => walk.grow(-1),
    "/": () => setOpened("search"),
    j: () => setOpened("revisions"),
    s: () => maySend && setOpened("send"),
    "?": () => setOpened("keys"),
    "ctrl k": () => setOpened("command"),
    ...(chosen === null ? { d: () => step(1), m: () => step(1) } : {}),
  });

  const deeds: Deed[] = [
    { label: "Read the brief", key: "B", run: () => choose(null) },
    { label: "Read the next commit by itself", key: "C", run: () => walk.step(1) },
    { label: "Read one commit more along with these", key: "G", run: () => walk.grow(1) },
    { label: "Choose two revisions to read between", key: "J", run: () => setOpened("revisions") },
    { label: "Search in what changed", key: "/", run: () => setOpened("search") },
    { label: "Go to the next file that is not read", key: "N", run: nextUnread },
    { label: "Go to the next open thread", key: "T", run: nextOpen },
    { label: "Go to the next thread that waits for the author", key: "Q", run: nextUnanswered },
    ...(maySend ? [{ label: "Send the review", key: "S", run: () => setOpened("send" as const) }] : []),
    ...(mayMerge ? [{ label: "Merge", run: () => setOpened("merge" as const) }] : []),
    ...(toggle
      ? [
          {
            label: points.from === "base" ? "Read only what is new to you" : "Read all of it",
            key: "A",
            run: toggle,
          },
        ]
      : []),
    { label: "Columns of all files: as it fits, one, two", key: "Shift K", run: nextColumns },
    { label: "Show the keys", key: "?", run: () => setOpened("keys") },
  ];
  const state: WorkspaceState = useMemo(
    () => ({ ...conversation, shown, activeThread, setActiveThread, goTo, tell }),
    [conversation, shown, activeThread, goTo, tell],
  );
  const close = () => setOpened(null);
  const around = useMemo(
    () => ({
      repository: view.repository,
      people: Object.fromEntries(Object.values(view.people).map(({ name, fullName }) => [name, fullName])),
    }),
    [view.repository, view.people],
  );
  return (
    <WorkspaceContext value={state}>
      <SurroundingsContext value={around}>
        <div className="flex h-dvh flex-col overflow-hidden">
          <TopBar
            me={me}
            trail={[
              { label: "Desk", href: "/" },
              { label: view.repository, href: `/r/${view.repository}` },
              { label: `change set ${view.number}` },
            ]}
          >
            <button
              type="button"
              className="flex w-72 flex-none items-center justify-between gap-2 whitespace-nowrap rounded-md border border-rule bg-paper px-3 py-1 text-soft hover:border-brass max-[1000px]:w-44"
              onClick={() => setOpened("command")}
            >
              Go to, or do… <Key>Ctrl K</Key>
            </button>
            <button type="button" className="quiet-button flex-none" onClick={() => setOpened("search")}>
              search <Key>/</Key>
            </button>
          </TopBar>
          <Header onGate={() => choose(null)} />
          <Ladder
            {...{ commits, points, files, conflicts, leftOut, merged }}
            onChoose={setPoints}
            onToggle={toggle}
            onRevisions={() => setOpened("revisions")}
          />
          <div className="flex min-h-0 flex-1">
            <Outline files={files} chosen={chosen} onChoose={choose} />
            {file ? (
              <Manuscript
                key={`${points.from} ${points.to} ${file.path}`}
                file={file}
                files={files ?? []}
                place={place}
                points={points}
                revision={revision}
                raw={raw}
                onRaw={setRaw}
                onJump={jump}
                target={target}
                onReadNext={readNext}
                onUnread={() => void markRead(file, revision, false)}
                onPast={step}
                onEnd={() => {
                  // What was compared with an earlier revision alone is not the whole of the file's change.
                  if (shown !== null && (points.from === "base" || points.from === "read"))
                    markLooked(file.path, shown);
                }}
                onCommit={showCommit}
              />
            ) : chosen !== null ? (
              <p className="flex-1 bg-paper px-8 py-8 text-soft">
                {files
                  ? `${chosen} does not differ between ${points.from} and ${points.to}.`
                  : (problem ?? "Comparing …")}
              </p>
            ) : (
              <Brief
                place={place}
                onRead={files && files.length > 0 ? () => choose((nextIn(files, -1, isLeft) ?? files[0]).path) : null}
                onMerge={() => setOpened("merge")}
                onYardstick={(name, path) => {
                  setPoints({ from: `live:${name}`, to: `r${view.revisions.length}` });
                  setChosen(path ?? FIRST);
                }}
                commits={commits}
                shown={walk.shown}
                onCommit={showCommit}
                onCommits={walk.upTo}
              />
            )}
          </div>
          <Footing
            files={files}
            complete={complete}
            notice={notice}
            onSend={() => setOpened("send")}
            onTake={() => setOpened("take")}
            onKeys={() => setOpened("keys")}
          />
        </div>
        <SendReview open={opened === "send"} revision={revision} onNewest={() => setPoints(newToMe)} onClose={close} />
        <TakeSheet open={opened === "take"} onClose={close} />
        <MergeSheet open={opened === "merge"} place={place} onClose={close} />
        <RevisionsSheet open={opened === "revisions"} {...{ place, points }} onChoose={showPoints} onClose={close} />
        <SearchSheet
          open={opened === "search"}
          place={place}
          points={points}
          onGo={({ path, side, line }: FoundPlace) => jump(path, side, line)}
          onClose={close}
        />
        <KeysSheet open={opened === "keys"} onClose={close} />
        <CommandField
          open={opened === "command"}
          files={files ?? []}
          deeds={deeds}
          repository={view.repository}
          commit={newest(view).head}
          onFile={(path, changed) => {
            if (changed) choose(path);
            else void openOther(path).then((found) => found && choose(path));
          }}
          onClose={close}
        />
      </SurroundingsContext>
    </WorkspaceContext>
  );
}

/** The first that fits after an index, going round. */
function nextIn<T>(list: T[], index: number, fits: (item: T) => boolean): T | undefined {
  for (let away = 1; away <= list.length; away++) {
    const item = list[(index + away + list.length) % list.length];
    if (fits(item)) return item;
  }
  return undefined;
}

function firstTarget({ line, thread }: Address, view: ChangeView): Target | null {
  const anchor = view.threads.find(({ id }) => id === thread)?.anchor;
  if (anchor?.kind === "lines") return { side: anchor.side, line: anchor.start, thread, jump: 0 };
  const [, side, number] = line?.match(/^(old|new):(\d+)$/) ?? [];
  return side ? { side: side as Target["side"], line: Number(number), thread: null, jump: 0 } : null;
}
