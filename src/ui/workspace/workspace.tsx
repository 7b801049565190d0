"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useContext, useEffect, useMemo, useRef, useState } from "react";
import { contentKey } from "@/core/diff/tree";
import type { ChangeAnswer } from "@/core/doors/endpoints/change-parts";
import { inOrder, isLeft, isTold } from "@/core/reading/files";
import { isWhole, type PointNames, type Points, readPoints, revisionOf } from "@/core/reading/points";
import { goesOn } from "@/core/review/state";
import type { Me, ReadingFile, ReadingView } from "@/core/views/api";
import { TopBar } from "../frame/top-bar";
import { noteRecent } from "../going/recent-places";
import { DraftOwner } from "../kept/use-draft";
import { useNarrowerThan } from "../kept/use-remembered";
import { useSeen } from "../notices/use-seen";
import { Key } from "../parts/key";
import { SurroundingsContext } from "../parts/markdown";
import { Actions } from "./actions/use-actions";
import { Brief } from "./brief/brief";
import { Footing } from "./footing";
import { Frame } from "./frame";
import { Manuscript } from "./manuscript/manuscript";
import { pointsOfCommits, useCommits, useCommitWalk } from "./navigation/use-commits";
import { nextIn, useFilesWalk } from "./navigation/use-files-walk";
import { useLeftAlone } from "./navigation/use-left-alone";
import { type Address, FIRST, useNavigation } from "./navigation/use-navigation";
import { type Opened, useReadingActions } from "./navigation/use-reading-actions";
import { useThreadsWalk } from "./navigation/use-threads-walk";
import { Nothing } from "./nothing";
import { Outline } from "./outline/outline";
import { Sheets } from "./sheets/sheets";
import {
  type Attention,
  AttentionContext,
  ChangeContext,
  NoticeContext,
  TellContext,
  useChangeSet,
} from "./state/context";
import { useChange } from "./state/use-change";
import { fileQuery } from "./state/use-file";
import { useNews } from "./state/use-news";
import { useOtherFiles } from "./state/use-other-files";
import { toldQuery, useReading, useTold, useToldAhead } from "./state/use-reading";
import { type Notice, useNotice } from "./use-notice";

interface WorkspaceProps {
  initial: ChangeAnswer;
  /** The names of the two states that are compared first. */
  named: PointNames;
  /** What differs between them; null where that is asked for by the page itself. */
  reading: ReadingView | null;
  address: Address;
  /** What is wrong with the address that led here; null when nothing is. */
  wrong: string | null;
  me: Me;
}

/** Where a change set is read, remarked on and settled. */
export function Workspace({ initial, wrong, ...rest }: WorkspaceProps) {
  const { notice, tell } = useNotice(wrong);
  const change = useChange(initial, tell);
  const { view, place } = change;
  useNews(view, place, tell);
  const owner = useContext(DraftOwner);
  useSeen(view);
  const { repository, number, title } = view;
  useEffect(
    () => noteRecent(owner, { title: `${repository} ${number}, ${title}`, address: `/r/${repository}/c/${number}` }),
    [owner, repository, number, title],
  );
  const around = useMemo(
    () => ({
      repository: view.repository,
      people: Object.fromEntries(Object.values(view.people).map(({ name, fullName }) => [name, fullName])),
    }),
    [view.repository, view.people],
  );
  return (
    <Actions>
      <TellContext value={tell}>
        <NoticeContext value={notice}>
          <ChangeContext value={change}>
            <SurroundingsContext value={around}>
              <Reading {...rest} notice={notice} tell={tell} />
            </SurroundingsContext>
          </ChangeContext>
        </NoticeContext>
      </TellContext>
    </Actions>
  );
}

/** What of it is open, and going from one thing to the next. */
function Reading({
  named,
  reading: first,
  address,
  me,
  notice,
  tell,
}: Omit<WorkspaceProps, "initial" | "wrong"> & { notice: Notice | null; tell: (words: string) => void }) {
  const { view, place } = useChangeSet();
  // Where this page began: a step back to an address without points leads there.
  const [begun] = useState<Points>(() => readPoints(named) ?? wholeOf(view.revisions.length));
  const navigation = useNavigation(view, begun, address);
  const { points, revision, chosen, choose, setPoints, showPoints, activeThread, setActiveThread } = navigation;
  const reading = useReading(place, points, first, tell);
  const { files, complete, problem, markRead, markLooked } = reading;
  const [opened, setOpened] = useState<Opened>(null);
  const [raw, setRaw] = useState(false);
  const [others, openOther] = useOtherFiles(view);
  const openFile = useMemo(() => {
    const isChosen = ({ path }: ReadingFile) => path === chosen;
    return files?.find(isChosen) ?? others.find(isChosen);
  }, [files, others, chosen]);
  const { told: file, problem: untold } = useTold(place, points, openFile);
  const tellAhead = useToldAhead(place, points);
  const shown = revisionOf(points);
  const commits = useCommits(place, revision);

  // Of a commit that was just chosen the first file is shown, whichever it turns out to be.
  useEffect(() => {
    if (!files || files.length === 0) return;
    // In what is new to someone a file without anything new is nothing to look at, either.
    const some = points.kind === "commits" || (points.kind === "revision" && points.from === "read" && complete);
    const there = ({ path }: { path: string }) => path === chosen;
    // One that was asked for all the same, by a thread in it or by its name, stays.
    const lost = some && chosen !== null && !files.some(there) && !others.some(there);
    if (chosen === FIRST || lost) choose((inOrder(files).left[0] ?? files[0]).path);
  }, [files, others, chosen, points, complete, choose]);

  const walk = useFilesWalk(
    navigation,
    files,
    openFile,
    // A few commits are one view of the files among others: having read that does not make a file read.
    points.kind === "commits" || !file ? null : () => void markRead(file, revision, true),
    openOther,
    tell,
  );
  const uses = useLeftAlone(walk.jump, tell);
  const threads = useThreadsWalk(navigation, view, files, shown, openOther, tell);
  const commitWalk = useCommitWalk(commits, points, showPoints, tell);
  const prefetch = usePrefetched(walk.upcoming, points);

  const newest = view.revisions.length;
  const newToMe: Points = { kind: "revision", from: "read", to: newest };
  const isAll = points.kind === "revision" && points.from === "base";
  const mayBeNew = goesOn(view) && newest > 1 && view.me.id !== view.author;
  const toggle = !isAll ? () => setPoints(wholeOf(revision)) : mayBeNew ? () => setPoints(newToMe) : null;
  useReadingActions(navigation, { files: walk, threads, commits: commitWalk, toggle }, setOpened, tell);

  const narrow = useNarrowerThan(700);
  const [list, setListed] = useState(false);
  const isListed = narrow && list;
  // Stays the same whatever is marked: the lines of the list are drawn anew only where something of theirs changes.
  const latest = useRef(files);
  latest.current = files;
  const fromList = useCallback(
    (path: string | null) => {
      const file = latest.current?.find((file) => file.path === path);
      if (file) void prefetch(file);
      setListed(false);
      choose(path);
    },
    [choose, prefetch],
  );
  const { jump } = walk;
  const lineFromList = useCallback(
    (path: string, side: "old" | "new", line: number) => {
      setListed(false);
      jump(path, side, line);
    },
    [jump],
  );
  // A thread that was chosen leads away from the list, too.
  // biome-ignore lint/correctness/useExhaustiveDependencies: each time somebody goes somewhere
  useEffect(() => setListed(false), [activeThread, navigation.target]);
  const { goTo } = threads;
  const attention: Attention = useMemo(
    () => ({ shown, activeThread, setActiveThread, goTo }),
    [shown, activeThread, setActiveThread, goTo],
  );
  const onCommit = useCallback(
    (commit: Parameters<typeof pointsOfCommits>[0]) => showPoints(pointsOfCommits(commit)),
    [showPoints],
  );
  return (
    <AttentionContext value={attention}>
      {/* Clipped, not hidden: what is brought into view within moves none of the frame. */}
      <div className="flex h-dvh flex-col overflow-clip">
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
            className="flex w-72 flex-none items-center justify-between gap-2 whitespace-nowrap rounded-md border border-rule bg-paper px-3 py-1 text-soft hover:border-brass max-[1000px]:w-44 max-[700px]:w-auto max-[700px]:px-2"
            onClick={() => setOpened("command")}
          >
            <span>
              Go to<span className="max-[700px]:hidden">, or do…</span>
            </span>
            <span className="max-[700px]:hidden">
              <Key>Ctrl K</Key>
            </span>
          </button>
          <button type="button" className="quiet-button flex-none" onClick={() => setOpened("search")}>
            search <Key>/</Key>
          </button>
        </TopBar>
        {/* Where there is little room, what is read takes all of it: the rest is with the brief, and the outline opens over it. */}
        {!(narrow && chosen !== null) && (
          <Frame
            {...{ commits, points, reading }}
            inFile={chosen !== null}
            onChoose={setPoints}
            onToggle={toggle}
            onRevisions={() => setOpened("revisions")}
            onGate={() => choose(null)}
          />
        )}
        {narrow && (
          <p className="flex flex-none border-b border-rule bg-page px-4 py-0.5">
            <button
              type="button"
              className="quiet-button min-h-6 flex-1 text-left"
              aria-expanded={isListed}
              onClick={() => setListed(!isListed)}
            >
              {isListed ? "Close the list" : "Brief, files and threads"}
            </button>
          </p>
        )}
        <div className="relative flex min-h-0 flex-1">
          {(!narrow || isListed) && (
            <div className={narrow ? "absolute inset-0 z-20 flex bg-page" : "contents"}>
              <Outline
                {...{ files, points, uses, chosen }}
                onChoose={fromList}
                onGo={lineFromList}
                onSeen={tellAhead}
              />
            </div>
          )}
          {file ? (
            <main className="flex min-h-0 min-w-0 flex-1">
              <Manuscript
                key={`${points.kind} ${revision} ${JSON.stringify(points)} ${file.path}`}
                {...{ file, points, revision, raw, walk, onCommit }}
                files={files ?? NONE}
                onRaw={setRaw}
                target={navigation.target}
                onNamed={navigation.setNamed}
                onUnread={() => void markRead(file, revision, false)}
                onEnd={() => {
                  if (shown !== null && isWhole(points)) markLooked(file.path, shown);
                }}
              />
            </main>
          ) : chosen !== null ? (
            <Nothing
              path={chosen}
              words={openFile ? (untold ?? "Opening it …") : complete ? null : (problem ?? "Comparing …")}
              onOther={openOther}
              files={files ?? NONE}
              onChoose={choose}
            />
          ) : (
            <Brief
              onRead={files && files.length > 0 ? () => choose((nextIn(files, -1, isLeft) ?? files[0]).path) : null}
              onMerge={() => setOpened("merge")}
              onGo={walk.jump}
              onYardstick={(name, path) => {
                setPoints({ kind: "yardstick", name, to: newest });
                choose(path ?? FIRST);
              }}
              {...{ revision, commits }}
              shown={commitWalk.shown}
              onCommit={onCommit}
              onCommits={commitWalk.upTo}
            />
          )}
        </div>
        <Footing
          {...{ files, points, complete, notice }}
          onSend={() => setOpened("send")}
          onTake={() => setOpened("take")}
          onKeys={() => setOpened("keys")}
        />
      </div>
      <Sheets
        {...{ opened, revision, points, openOther, navigation, newToMe, file }}
        files={files ?? NONE}
        onJump={walk.jump}
        onClose={() => setOpened(null)}
      />
    </AttentionContext>
  );
}

const NONE: ReadingFile[] = [];

function wholeOf(revision: number): Points {
  return { kind: "revision", from: "base", to: revision };
}

/** How long after a file was opened the next one is fetched, in milliseconds: when this one is on the screen. */
const AHEAD = 60;

/** The files that come next are fetched while this one is read. Gives what fetches any at once: while its page is drawn its contents are on their way. */
function usePrefetched(upcoming: readonly ReadingFile[], points: Points): (file: ReadingFile) => Promise<void> {
  const client = useQueryClient();
  const { view, place } = useChangeSet();
  const { repository } = view;
  const prefetch = useCallback(
    async (file: ReadingFile) => {
      // What fails here is asked for again when it is opened.
      const ids = isTold(file) ? file : await client.fetchQuery(toldQuery(place, points, file.path)).catch(() => null);
      if (!ids) return;
      const [old, next] = [contentKey(ids.oldId, ids.oldMode), contentKey(ids.newId, ids.newMode)];
      await client.prefetchQuery(fileQuery(repository, old, next));
    },
    [client, repository, place, points],
  );
  useEffect(() => {
    let wanted = true;
    const fetchAll = async () => {
      for (const file of upcoming) if (wanted) await prefetch(file);
    };
    // Behind what the person waits for.
    const timer = setTimeout(() => void fetchAll(), AHEAD);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [upcoming, prefetch]);
  return prefetch;
}
