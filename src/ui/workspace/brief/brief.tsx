"use client";
import { useEffect, useState } from "react";
import { visibleWords } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import { goesOn, type Review, revisionName } from "@/core/review/state";
import type { CommitView } from "@/core/views/api";
import { SafeMarkdown } from "../../parts/markdown";
import { PersonMark } from "../../parts/person-mark";
import { When } from "../../parts/when";
import { EarlierWords, EditWords, useWordsDraft } from "../margin/edit-words";
import type { CommitRange } from "../navigation/use-commits";
import { byName, nameIn, useChangeSet } from "../state/context";
import { Checks } from "./checks";
import { Conversation, HomelessThreads, WholeRemarks } from "./conversation";
import { Elsewhere } from "./elsewhere";
import { GatePanel } from "./gate-panel";
import { Labels } from "./labels";
import { Reviewers } from "./reviewers";
import { Tasks } from "./tasks";
import { WorkItems } from "./work-items";
import { Yardstick } from "./yardstick";

/** Why the change set is there, what it is made of, what was said of it, and what it still needs. */
export function Brief({
  onRead,
  onMerge,
  onYardstick,
  onGo,
  ...commits
}: CommitsOf & {
  onRead: (() => void) | null;
  onMerge: () => void;
  /** Reads against a branch or tag, from a file on where one is named. */
  onYardstick: (name: string, path: string | null) => void;
  /** Shows a line of a file. */
  onGo: (path: string, side: "old" | "new", line: number) => void;
}) {
  const { view } = useChangeSet();
  const words = useWordsDraft();
  const [opened, setOpened] = useState(false);
  // What was begun and not saved is there again.
  const editing = view.me.describe.may && (opened || words.begun);
  return (
    <main className="relative min-w-0 flex-1 overflow-y-auto bg-paper outline-none">
      <div className="mx-auto grid max-w-5xl grid-cols-[minmax(0,1fr)_300px] gap-10 px-8 py-7 max-[1000px]:grid-cols-1 max-[700px]:px-4 max-[700px]:py-4">
        <div>
          <div className="flex items-baseline justify-between gap-4">
            <h2 className="font-serif text-xl font-semibold">Why</h2>
            {view.me.describe.may && !editing && (
              <button type="button" className="quiet-button" onClick={() => setOpened(true)}>
                edit title and description
              </button>
            )}
          </div>
          {editing ? (
            <EditWords onDone={() => setOpened(false)} />
          ) : (
            <div className="mt-2 font-serif text-[16px] leading-7">
              {view.description.trim() === "" ? (
                <p className="text-faint">The author has not said why.</p>
              ) : (
                <SafeMarkdown text={view.description} />
              )}
            </div>
          )}
          <EarlierWords />
          {onRead && (
            <button type="button" className="button-main mt-5" onClick={onRead}>
              Begin to read
            </button>
          )}
          <WorkItems />
          <Elsewhere onGo={onGo} />
          <Said />
          <LeftOut />
          <WholeRemarks />
          <HomelessThreads />
          <Commits {...commits} />
          <Yardstick onRead={onYardstick} />
        </div>
        <div>
          <GatePanel onMerge={onMerge} />
          <Reviewers />
          <Tasks />
          <Labels />
          {/* What grows by itself while a check runs moves nothing that is pressed away from under the pointer. */}
          <Checks />
          <TakeLocally />
        </div>
      </div>
    </main>
  );
}

const VERDICTS: Record<Review["verdict"], { words: string; look: string }> = {
  approve: { words: "✓ approved", look: "text-teal" },
  "request-changes": { words: "○ asked for changes in", look: "text-clay" },
  none: { words: "remarked on", look: "text-soft" },
};

function Said() {
  const { view } = useChangeSet();
  if (view.reviews.length === 0) return null;
  return (
    <section className="mt-8" aria-label="Reviews">
      <h2 className="font-serif text-xl font-semibold">Reviews</h2>
      <ol className="mt-2 grid gap-3">
        {view.reviews.map((review) => (
          <li key={review.id} className="flex gap-3">
            <PersonMark name={view.people[review.by]?.fullName ?? "Someone"} portrait={view.people[review.by]} />
            <div className="min-w-0">
              <p>
                <span className="font-semibold">{nameIn(view, review.by)}</span>{" "}
                <span className={VERDICTS[review.verdict].look}>{VERDICTS[review.verdict].words}</span>{" "}
                {revisionName(review.revision)}{" "}
                <span className="text-soft">
                  · <When at={review.at} />
                  {review.threads.length > 0 && ` · ${counted(review.threads.length, "remark")}`}
                </span>
              </p>
              {review.remark.trim() !== "" && <SafeMarkdown text={review.remark} />}
            </div>
          </li>
        ))}
        {view.lifts.map((lift) => (
          <li key={`${lift.person} ${lift.at}`} className="flex gap-3">
            <PersonMark name={view.people[lift.by]?.fullName ?? "Someone"} portrait={view.people[lift.by]} />
            <p>
              <span className="font-semibold">{nameIn(view, lift.by)}</span>{" "}
              {lift.by === lift.person
                ? "took the request for changes back"
                : `lifted the request for changes of ${byName(view, lift.person)}`}{" "}
              <span className="text-soft">
                · <When at={lift.at} />
              </span>
              {lift.reason !== "" && <span className="block">{visibleWords(lift.reason)}</span>}
            </p>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** What came from another clone and does not count here or anywhere, with the reason: who wrote it finds it again. */
function LeftOut() {
  const { view } = useChangeSet();
  if (view.leftOut.length === 0) return null;
  return (
    <section className="mt-8" aria-label="What does not count">
      <h2 className="font-serif text-xl font-semibold">What does not count</h2>
      <p className="text-soft">It was written without knowing what others did before it.</p>
      <ul className="mt-1 divide-y divide-rule">
        {view.leftOut.map(({ id, by, kind, why }) => (
          <li key={id} className="py-1.5">
            <span className="font-semibold">{nameIn(view, by)}</span> · {kind.replaceAll("-", " ")}:{" "}
            <span className="text-soft">{why}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The commands that bring the newest revision to one's own machine. */
function TakeLocally() {
  const { view } = useChangeSet();
  const [origin, setOrigin] = useState("");
  useEffect(() => setOrigin(window.location.origin), []);
  const ref = `refs/lens/${view.id}/r${view.revisions.length}/head`;
  return (
    <section aria-label="On your machine" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">On your machine</h2>
      <pre
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what is scrolled is scrolled by keys, too
        tabIndex={0}
        className="mt-1 select-all overflow-x-auto rounded bg-well px-2 py-1.5 font-mono text-[11.5px] leading-5"
      >
        {`git fetch ${origin}/git/${view.repository}.git \\\n  ${ref}\ngit switch --detach FETCH_HEAD`}
      </pre>
      <p className="text-[13px] text-soft">
        Or, in a clone: <code className="font-mono text-[11.5px]">lens take {view.number}</code>
      </p>
      {goesOn(view) && <p className="text-[13px] text-soft">A push to {view.source} makes the next revision.</p>}
    </section>
  );
}

interface CommitsOf {
  revision: number;
  /** The oldest first; undefined while they are on their way. */
  commits: CommitView[] | undefined;
  /** Those that are read now. */
  shown: CommitRange | null;
  onCommit: (commit: CommitView) => void;
  /** From the first of those shown to this one. */
  onCommits: (index: number) => void;
}

function Commits({ revision, commits, shown, onCommit, onCommits }: CommitsOf) {
  const { view, startNote } = useChangeSet();
  if (!commits) return null;
  return (
    <section className="mt-8" aria-label="Commits">
      <h2 className="font-serif text-xl font-semibold">
        {counted(commits.length, "commit")} in r{revision}
      </h2>
      <p className="text-soft">
        The oldest first. Each can be read by itself, or several together: C goes from one to the next, G takes one more
        along. A click with Shift reads from the one shown to that one.
      </p>
      <ol className="mt-2 divide-y divide-rule">
        {commits.map((commit, i) => (
          <li
            key={commit.id}
            className={`flex gap-3 py-1.5 ${shown && shown.first <= i && i <= shown.last ? "bg-brass-wash" : ""}`}
          >
            <code className="font-mono text-[12px] leading-6 text-faint">{commit.id.slice(0, 8)}</code>
            <span className="min-w-0 flex-1">
              <button
                type="button"
                className="text-left hover:underline"
                onClick={(event) => (event.shiftKey ? onCommits(i) : onCommit(commit))}
              >
                {commit.subject}
              </button>
              <span className="block text-[13px] text-soft">
                {commit.author} · <When at={commit.at} />
              </span>
              {commit.body !== "" && <span className="block whitespace-pre-line text-soft">{commit.body}</span>}
              <Conversation about={(anchor) => anchor.kind === "commit" && anchor.commit === commit.id} />
            </span>
            {goesOn(view) && view.me.remark.may && (
              <button
                type="button"
                className="quiet-button flex-none self-start text-[13px]"
                onClick={() => startNote({ kind: "commit", revision, commit: commit.id })}
              >
                remark
              </button>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}
