"use client";
import { lazy, Suspense, useMemo, useRef, useState } from "react";
import { SUBMODULE } from "@/core/diff/tree";
import { measuresOf } from "@/core/house/look";
import { FORM_NAMES, formOf } from "@/core/reading/forms/form";
import type { Points } from "@/core/reading/points";
import { FOLD, nextDifference, REMOVED } from "@/core/reading/rows";
import { goesOn } from "@/core/review/state";
import type { CommitView, ReadingFile } from "@/core/views/api";
import { useLook } from "../../frame/use-look";
import { useRemembered } from "../../kept/use-remembered";
import { useActions } from "../actions/use-actions";
import { Margin } from "../margin/margin";
import { usePlaced } from "../margin/use-placed";
import type { FilesWalk } from "../navigation/use-files-walk";
import type { Named, Target } from "../navigation/use-navigation";
import { useAttention, useChangeSet, useTell } from "../state/context";
import { useBlame } from "../state/use-blame";
import { useFile } from "../state/use-file";
import { Alike, AlikeContext, changeAt } from "./alike";
import { Evidence } from "./around/evidence";
import { NamePanel } from "./around/name-panel";
import { useNames } from "./around/use-names";
import { Cautions } from "./cautions";
import { ChangeMarks } from "./change-marks";
import { FileHead } from "./file-head";
import { InsteadOfText } from "./forms/instead-of-text";
import { Untold } from "./forms/untold";
import { HiddenRemarks } from "./hidden-remarks";
import { LongLine } from "./long-line";
import { ReadAlong } from "./read-along";
import { Lines } from "./rows/lines";
import { topLine, widest } from "./rows/rows-on-page";
import { useBeyond } from "./rows/use-beyond";
import { Scopes } from "./scopes";
import { useLongLine } from "./use-long-line";
import { useOpening } from "./use-opening";
import { usePage } from "./use-page";
import { useRemarking } from "./use-remarking";
import { useRows } from "./use-rows";
import { type Verified, VerifySheet } from "./verify-sheet";

/** What reads tables and data is fetched when somebody wants to see one. */
const Drawn = lazy(() => import("./forms/drawn"));

/** How far beyond what can be seen the margin is drawn, in pixels, and after how much scrolling it is drawn anew. */
const SEEN = 500;
const PIECE = 150;

/** Width of the column of who and when, as the style sheet has it. */
const WHO = 190;

/** Nothing is pointed at. */
const NOTHING = { row: -1, moves: 0 };

interface ManuscriptProps {
  file: ReadingFile;
  /** All files now compared. */
  files: readonly ReadingFile[];
  points: Points;
  revision: number;
  /** Nothing is folded, in any file. */
  raw: boolean;
  onRaw: (raw: boolean) => void;
  walk: FilesWalk;
  target: Target | null;
  /** Told of the name that is asked about. */
  onNamed: (named: Named | null) => void;
  onUnread: () => void;
  onCommit: (commit: CommitView) => void;
  /** The last line of the file has come into sight. */
  onEnd: () => void;
}

/** One file to be read, with its margin. */
export function Manuscript(props: ManuscriptProps) {
  const { file, files, points, revision, raw, onRaw, walk, target, onUnread } = props;
  const { view: change, place } = useChangeSet();
  const { shown: upTo } = useAttention();
  const tell = useTell();
  const [asText, setAsText] = useState(false);
  const [verified, setVerified] = useState<Verified | null>(null);
  const [placed, onPlaced] = usePlaced();
  const [marginHeight, setMarginHeight] = useState(0);
  const [asking, setAsking] = useRemembered<"yes" | "no">("evidence", "no");
  const [hiding, setHiding] = useRemembered<"yes" | "no">("remarks hidden", "no");
  const [signing, setSigning] = useRemembered<"yes" | "no">("who and when", "no");
  const wrote = useBlame(points, file, signing === "yes");
  // The cursor has the last word, until the pointer moves: what is pointed at, and how often the cursor had moved by then.
  const [pointed, setPointed] = useState(NOTHING);
  const [drawn, setDrawn] = useState(false);
  const { view, text, error, colours, classes } = useFile(change.repository, place, points, file, asText);
  const shown = useRows({ change, shown: upTo, file, view, classes, placed, raw, target });
  const { rows, layout, columns, wraps } = shown;
  const hunks = view?.comparison.hunks;
  const { scroller, virtual, rowTop, hold } = usePage(
    shown,
    hunks,
    target,
    // Who sees a file drawn has not had its lines before them.
    drawn ? null : props.onEnd,
  );
  const { cursor, moves, selection, choose, show, move } = hold;
  const opening = useOpening(shown, cursor, text?.next, hunks);
  const remarking = useRemarking(file, revision);

  const marks = useMemo(() => {
    const pairs = view?.comparison.pairs ?? [];
    return {
      old: new Map(pairs.map(({ old, oldSpans }) => [old, oldSpans])),
      next: new Map(pairs.map(({ next, newSpans }) => [next, newSpans])),
    };
  }, [view]);
  const longLine = useLongLine(rows && text && hunks ? { rows, text, colours, marks, hunks } : null, tell);
  const verify = (index: number) => {
    const run = rows && index >= 0 ? classes.runs[rows.run[index]] : undefined;
    if (rows && run) setVerified({ run, folded: rows.kind[index] === FOLD ? rows.hidden[index] : 0 });
    else tell("Nothing is folded here: go to a fold or a quiet line to verify it.");
  };
  const difference = (step: 1 | -1) => {
    const row = rows ? nextDifference(rows, cursor, step) : -1;
    if (row < 0) walk.step(step);
    else show(row, true);
  };
  const alike = (step: "next" | "previous") => {
    const change = changeAt(classes.alike, rows ?? null, cursor);
    if (!change) return tell("No change of this file stands elsewhere as well.");
    const { path, side, start } = change[step];
    walk.jump(path, side, start);
    const place = ((change.at - 1 + (step === "next" ? 1 : -1) + change.of) % change.of) + 1;
    tell(`Place ${place} of ${change.of} with the same change.`);
  };
  const names = useNames(
    { rows: rows ?? null, rowAt: shown.rowAt, text, colours },
    cursor,
    scroller,
    target,
    props.onNamed,
  );
  const name = (by: 1 | -1) => {
    if (!names.step(by)) tell("There is no name on this line.");
  };
  const form = formOf(file.path);
  const toggleDrawn = form && text && view && !view.untold ? () => setDrawn(!drawn) : null;
  const toggleAsking = () => setAsking(asking === "yes" ? "no" : "yes");
  useActions({
    "next-line": () => move(1),
    "previous-line": () => move(-1),
    "select-down": () => move(1, true),
    "select-up": () => move(-1, true),
    "page-down": () => move(25),
    "page-up": () => move(-25),
    "first-line": () => move(-Number.MAX_SAFE_INTEGER),
    "last-line": () => move(Number.MAX_SAFE_INTEGER),
    "next-difference": () => difference(1),
    "previous-difference": () => difference(-1),
    drawn: toggleDrawn,
    "next-name": () => name(1),
    "previous-name": () => name(-1),
    "next-alike": classes.alike.length > 0 ? () => alike("next") : null,
    "previous-alike": classes.alike.length > 0 ? () => alike("previous") : null,
    "open-nearest": opening.openNearest,
    "open-block": opening.openBlock,
    "whole-file": shown.toggleWhole,
    evidence: toggleAsking,
    "who-and-when": () => {
      setSigning(signing === "yes" ? "no" : "yes");
      if (signing === "no" && columns === 2) tell("Who and when stand beside lines in one column.");
    },
    verify: () => verify(rows && rows.run[cursor] >= 0 ? cursor : opening.nearest()),
    raw: () => onRaw(!raw),
    "whole-line": () => longLine.show(cursor, rows && rows.kind[cursor] === REMOVED ? "old" : "new"),
    wrap: shown.toggleWrap,
    columns: shown.toggleColumns ?? (() => tell("This file is there on one side alone: one column is all it needs.")),
    remark: () => remarking.onLines(selection),
    "remark-on-file": remarking.onFile,
    "hide-remarks": () => setHiding(hiding === "yes" ? "no" : "yes"),
    "read-next": walk.readNext,
    "mark-unread": onUnread,
    "end-selection": names.chosen ? names.close : hold.selecting ? () => choose(cursor) : null,
  });

  // Rows are drawn again only where something of theirs changes: what they call stays the same.
  const latest = useRef({ verify, wholeLine: longLine.show, release: () => {}, wrap: () => {} });
  latest.current = {
    verify,
    wholeLine: longLine.show,
    release: () => remarking.onLines(selection),
    wrap: shown.toggleWrap,
  };
  const { grasp, stretch } = hold;
  const beside = useRef<HTMLDivElement>(null);
  const watchEnd = useBeyond(scroller, beside);
  const acts = useMemo(
    () => ({
      onGrasp: grasp,
      onStretch: stretch,
      onChoose: choose,
      onRelease: () => latest.current.release(),
      onWrap: () => latest.current.wrap(),
      onWhole: (row: number, side: "old" | "new") => latest.current.wholeLine(row, side),
      watchEnd,
      onVerify: (index: number) => latest.current.verify(index),
    }),
    [grasp, stretch, choose, watchEnd],
  );
  const { column } = measuresOf(useLook()[0]);
  const width = useMemo(() => (text && view ? widest(text.next, view.removed) : 0), [text, view]);
  const anchored = useMemo(() => {
    const set = new Set<string>();
    for (const { side, place } of placed)
      if (place.status !== "gone") for (let l = place.start; l <= place.end; l++) set.add(`${side}${l}`);
    return set;
  }, [placed]);
  const digits = Math.max(3, String(Math.max(view?.comparison.oldLines ?? 0, view?.comparison.newLines ?? 0)).length);
  const seenFrom = Math.floor((virtual.scrollOffset ?? 0) / PIECE) * PIECE;
  return (
    <section className="flex min-h-0 min-w-0 flex-1 flex-col" aria-label={file.path}>
      <FileHead
        file={file}
        comparison={view?.comparison}
        wrap={shown.wrapChosen}
        onWrap={columns === 2 ? null : shown.toggleWrap}
        columns={columns}
        onColumns={shown.toggleColumns}
        raw={raw}
        onRaw={() => onRaw(!raw)}
        whole={shown.whole}
        onWhole={shown.toggleWhole}
        drawn={drawn}
        form={form && FORM_NAMES[form]}
        onDrawn={toggleDrawn}
        onRemark={goesOn(change) && change.me.remark.may ? remarking.onFile : null}
        onReadNext={walk.readNext}
        onUnread={onUnread}
      />
      <ReadAlong echoed={classes.echoed} onGo={walk.jump} />
      <Alike changes={classes.alike} onGo={walk.jump} onNext={() => alike("next")} />
      <Cautions file={file} onGo={(line) => walk.jump(file.path, "new", line)} />
      <div className="relative flex min-h-0 flex-1">
        {text && rows && layout && !drawn && (
          <Scopes
            repository={change.repository}
            id={file.newMode === SUBMODULE ? null : file.newId}
            path={file.path}
            lines={text.next}
            line={topLine(rows, layout, virtual.scrollOffset ?? 0, virtual.getVirtualItems())}
            onGo={(line) => walk.jump(file.path, "new", line + 1)}
          />
        )}
        <div
          ref={scroller}
          className="manuscript min-h-0 min-w-0 flex-1 overflow-auto bg-page outline-none"
          tabIndex={-1}
          data-testid="scroller"
        >
          {drawn && form && text && view && (
            <Suspense fallback={<Untold words="Drawing it …" />}>
              <Drawn
                {...{ form, view, text }}
                path={file.path}
                onGo={(side, line) => {
                  setDrawn(false);
                  walk.jump(file.path, side, line);
                }}
              />
            </Suspense>
          )}
          <div className={`${drawn ? "hidden" : "flex"} min-h-full ${wraps ? "" : "min-w-fit"}`}>
            <div
              role="grid"
              aria-label={`Lines of ${file.path}`}
              aria-rowcount={layout?.count ?? 0}
              aria-multiselectable
              tabIndex={layout && cursor >= 0 ? -1 : 0}
              className="relative flex-1 bg-paper"
              style={{
                ["--number-width" as string]: `${digits * 7 + 14}px`,
                minWidth: wraps
                  ? 0
                  : Math.ceil(Math.min(width, 2_040) * column) + digits * 14 + 28 + 60 + (wrote ? WHO : 0),
                minHeight: Math.max(virtual.getTotalSize(), marginHeight),
              }}
              onPointerMove={
                asking === "yes"
                  ? ({ target, movementX, movementY }) => {
                      // Rows that scroll away under a pointer that rests are not pointed at.
                      if (movementX === 0 && movementY === 0) return;
                      const row = rowAt(target);
                      setPointed((now) => (now.row === row && now.moves === moves ? now : { row, moves }));
                    }
                  : undefined
              }
              onPointerLeave={() => setPointed(NOTHING)}
              onPointerUp={names.pick}
            >
              <InsteadOfText
                {...{ file, view, error }}
                repository={change.repository}
                empty={rows?.count === 0}
                onAsText={() => setAsText(true)}
              />
              {rows && layout && text && view && !view.untold && (
                <Lines
                  {...{ file, rows, layout, text, colours, marks, classes, columns, cursor, anchored, wrote }}
                  onJump={walk.jump}
                  selection={hold.selecting ? selection : null}
                  items={virtual.getVirtualItems()}
                  measure={wraps ? virtual.measureElement : null}
                  acts={acts}
                  onOpenGap={opening.openGap}
                  onOpenFold={opening.openFold}
                  onVerify={acts.onVerify}
                />
              )}
            </div>
            <div ref={beside} className="sticky right-0 flex flex-none">
              {hiding === "yes" ? (
                <HiddenRemarks onShow={() => setHiding("no")} />
              ) : (
                <AlikeContext value={classes.alike}>
                  <Margin
                    file={file}
                    narrow={shown.narrow}
                    from={seenFrom - SEEN}
                    to={seenFrom + SEEN + (scroller.current?.clientHeight ?? SEEN)}
                    rowTop={rowTop}
                    onPlaced={onPlaced}
                    onHeight={setMarginHeight}
                  />
                </AlikeContext>
              )}
            </div>
          </div>
        </div>
        {rows && layout && !drawn && <ChangeMarks {...{ rows, layout, scroller }} />}
      </div>
      <VerifySheet
        verified={verified}
        {...{ file, files, classes, points }}
        hunks={hunks ?? []}
        onClose={() => setVerified(null)}
      />
      {longLine.shown && <LongLine line={longLine.shown} onClose={longLine.close} />}
      {names.chosen && <NamePanel {...{ points, file }} chosen={names.chosen} onGo={walk.jump} onClose={names.close} />}
      {asking === "yes" && !names.chosen && rows && text && view && !view.untold && (
        <Evidence
          {...{ points, file, view, text, rows, classes }}
          row={pointed.row >= 0 && pointed.moves === moves ? pointed.row : cursor}
          onCommit={props.onCommit}
          onClose={toggleAsking}
        />
      )}
    </section>
  );
}

/** The row that an element of the page belongs to; -1 for none. */
function rowAt(target: EventTarget): number {
  const line = target instanceof Element ? target.closest("[data-row]") : null;
  return line ? Number(line.getAttribute("data-row")) : -1;
}
