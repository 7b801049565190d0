"use client";
import { memo, type ReactNode, useEffect, useLayoutEffect, useRef, useState } from "react";
import { startOf } from "@/core/anchor/anchor";
import { placeCards } from "@/core/reading/margin";
import type { ReadingFile } from "@/core/views/api";
import { useFindings } from "../brief/checks";
import { useAttention, useChangeSet } from "../state/context";
import { useSteady } from "./after-press";
import { FoundCard } from "./found-card";
import { MachineCard } from "./machine-card";
import { NoteCard } from "./note-card";
import { ThreadCard } from "./thread-card";
import { foundEntries, type MarginEntry, type Placed, useEntries, useStandings } from "./use-entries";

const BETWEEN = 10;
/** Height of a mark in the narrow margin, in pixels. */
const MARK = 24;
/** Room that is kept below the mark of an open card. */
const CARD = 320;

/** The remarks on one file, beside their lines. */
export const Margin = memo(function Margin(props: {
  file: ReadingFile;
  /** What can be seen of the page, and somewhat more, in pixels: cards elsewhere are not drawn. */
  from: number;
  to: number;
  /** No room for cards: marks that open them. */
  narrow: boolean;
  rowTop: (side: "old" | "new", line: number) => number | null;
  onPlaced: (placed: readonly Placed[]) => void;
  onHeight: (height: number) => void;
}) {
  const { file, from, to, narrow, rowTop, onPlaced, onHeight } = props;
  const { view, freshNote } = useChangeSet();
  const { activeThread, shown } = useAttention();
  const [opened, setOpened] = useOpenCard(freshNote, activeThread);
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const [heights, setHeights] = useState<Map<string, number>>(new Map());
  const said = useEntries(view, file, unfolded, activeThread, shown);
  const findings = useFindings(view);
  // What checks found belongs to the newest revision, and stands beside lines that are shown.
  const found =
    findings && shown === view.revisions.length
      ? foundEntries(findings, file, (line) => rowTop("new", line) !== null, unfolded)
      : [];
  const entries = [...said, ...found];
  const standing = useStandings(view, said, file, shown);
  useEffect(() => onPlaced([...standing.values()]), [standing, onPlaced]);

  const wants = (id: string): number => {
    const finding = found.find((entry) => entry.id === id);
    if (finding) return rowTop("new", startOf(finding.anchor)) ?? 0;
    const at = standing.get(id);
    if (!at || at.place.status === "gone") return 0;
    return rowTop(at.side, at.place.start) ?? 0;
  };
  const cards = entries.map(({ id }) => ({
    id,
    wants: wants(id) + 2,
    height: narrow ? MARK : (heights.get(id) ?? 90),
  }));
  const tops = useSteady(placeCards(cards, BETWEEN, narrow ? null : opened));
  // One that came while the others are held still stands at its line until they make room.
  const topOf = (id: string) => tops.get(id) ?? wants(id) + 2;
  const heightOf = (id: string, height: number) => (narrow && id === opened ? CARD : height);
  const bottom = cards.reduce((most, { id, height }) => Math.max(most, topOf(id) + heightOf(id, height) + 30), 0);
  useEffect(() => onHeight(bottom), [bottom, onHeight]);

  const card = (entry: MarginEntry) => {
    const place = standing.get(entry.id)?.place ?? null;
    if ("thread" in entry) return <ThreadCard thread={entry.thread} place={place} />;
    if ("note" in entry) return <NoteCard key={entry.id} note={entry.note} place={place} />;
    if ("found" in entry) {
      const { check, tool } = entry.found;
      const name = `found ${check} ${tool}`;
      return <FoundCard fold={entry.found} onOpen={() => setUnfolded((now) => new Set(now).add(name))} />;
    }
    const { by } = entry.machine;
    return <MachineCard fold={entry.machine} onOpen={() => setUnfolded((now) => new Set(now).add(by))} />;
  };
  /** What is being written stays, wherever one scrolls. */
  const isDrawn = (entry: MarginEntry) => {
    const top = topOf(entry.id);
    const bottom = top + (heights.get(entry.id) ?? 90);
    return (bottom >= from && top <= to) || entry.id === freshNote || entry.id === activeThread;
  };
  // Code that is suggested needs more room than words do.
  const wide = entries.some((entry) =>
    "thread" in entry ? entry.thread.suggestions.length > 0 : "note" in entry && entry.note.suggestions.length > 0,
  );
  // Where nothing is said, the code has the room.
  if (narrow || entries.length === 0) {
    return (
      <aside aria-label="Remarks" className="w-9 flex-none border-l border-rule bg-page">
        {entries.filter(isDrawn).map((entry) => {
          const top = topOf(entry.id);
          const open = opened === entry.id;
          return (
            <div key={entry.id}>
              <Mark entry={entry} top={top} open={open} onToggle={() => setOpened(open ? null : entry.id)} />
              <div
                className={
                  open ? "absolute right-9 z-20 w-[min(310px,calc(100vw-56px))] rounded-md shadow-sheet" : "hidden"
                }
                style={{ top }}
              >
                {card(entry)}
              </div>
            </div>
          );
        })}
      </aside>
    );
  }
  return (
    <aside
      aria-label="Remarks"
      className={`flex-none border-l border-rule bg-page ${wide ? "w-[400px]" : "w-[300px]"}`}
    >
      {entries.filter(isDrawn).map((entry) => (
        <Beside
          key={entry.id}
          top={topOf(entry.id)}
          line={wants(entry.id) + 10}
          onHeight={(height) => setHeights((now) => kept(now, entry.id, height))}
        >
          {card(entry)}
        </Beside>
      ))}
    </aside>
  );
});

/**
 * Which card is open in a narrow margin: the one chosen last, be it by its mark, by going to a thread, or by beginning a remark. Follows
 * within the same drawing, since a field can be typed into only once it can be seen.
 */
function useOpenCard(
  freshNote: string | null,
  activeThread: string | null,
): [string | null, (id: string | null) => void] {
  const [opened, setOpened] = useState(freshNote ?? activeThread);
  const [followed, setFollowed] = useState({ freshNote, activeThread });
  if (followed.freshNote !== freshNote || followed.activeThread !== activeThread) {
    setFollowed({ freshNote, activeThread });
    const latest = followed.freshNote !== freshNote ? freshNote : activeThread;
    if (latest !== null) setOpened(latest);
  }
  return [opened, setOpened];
}

/** A remark where there is no room for its card: how many have spoken in it, and whether it is settled or unsent. */
function Mark({
  entry,
  top,
  open,
  onToggle,
}: {
  entry: MarginEntry;
  top: number;
  open: boolean;
  onToggle: () => void;
}) {
  const unsent = "note" in entry;
  const settled = "thread" in entry && entry.thread.resolved !== null;
  const count =
    "thread" in entry
      ? entry.thread.comments.length
      : "machine" in entry
        ? entry.machine.threads.length
        : "found" in entry
          ? entry.found.findings.length
          : 1;
  const look = unsent
    ? "border-dashed border-brass text-brass"
    : settled
      ? "border-rule text-faint"
      : "border-slate text-slate";
  const state =
    "found" in entry ? "found by a check" : unsent ? "unsent remark" : settled ? "resolved thread" : "open thread";
  return (
    <button
      type="button"
      aria-expanded={open}
      aria-label={`${state}, ${count} in it`}
      title={state}
      onClick={onToggle}
      className={`absolute left-1 h-6 w-7 rounded border-2 bg-paper text-[12px] font-semibold ${look}`}
      style={{ top }}
    >
      {settled ? "✓" : unsent ? "✎" : count}
    </button>
  );
}

function kept<V>(map: Map<string, V>, key: string, value: V): Map<string, V> {
  return map.get(key) === value ? map : new Map(map).set(key, value);
}

/** A card at its height, with a thin lead to its line. */
function Beside({
  top,
  line,
  onHeight,
  children,
}: {
  top: number;
  line: number;
  onHeight: (height: number) => void;
  children: ReactNode;
}) {
  const box = useRef<HTMLDivElement>(null);
  const tell = useRef(onHeight);
  tell.current = onHeight;
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const observer = new ResizeObserver(() => tell.current(element.offsetHeight));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const drop = Math.max(0, top + 12 - line);
  return (
    <>
      <span
        aria-hidden
        className="absolute left-0 w-[7px] border-t border-r border-slate"
        style={{ top: line, height: drop }}
      />
      <span aria-hidden className="absolute left-[6px] w-[8px] border-t border-slate" style={{ top: line + drop }} />
      <div ref={box} className="absolute right-3 left-[14px]" style={{ top }}>
        {children}
      </div>
    </>
  );
}
