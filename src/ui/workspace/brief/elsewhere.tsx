"use client";
import { useState } from "react";
import { visible } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import { goesOn } from "@/core/review/state";
import type { LeftAlone } from "@/core/views/around-view";
import { ask, type ChangePlace } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { useRemembered } from "../../kept/use-remembered";
import { CodeText } from "../manuscript/rows/code-text";
import { useChangeSet } from "../state/context";

/** So many are told of before one asks for the rest, and so many places of each. */
const MOST = 8;
const MOST_PLACES = 6;

/** What the change makes of definitions that are used elsewhere, in the newest revision. */
export function leftAloneQuery(place: ChangePlace, revision: number) {
  return {
    queryKey: ["left alone", place, revision],
    queryFn: ({ signal }: { signal: AbortSignal }) =>
      ask("GET /api/repos/{repo}/changes/{number}/left-alone", {
        parts: place,
        query: { from: "base", to: `r${revision}` },
        signal,
      }),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  };
}

/** Hints, each with its evidence: uses of what changed that the change leaves alone, what nothing uses, what no test names. */
export function Elsewhere({ onGo }: { onGo: (path: string, side: "old" | "new", line: number) => void }) {
  const { view, place } = useChangeSet();
  const [hiding, setHiding] = useRemembered<"yes" | "no">(`elsewhere hidden ${view.id}`, "no");
  const [all, setAll] = useRemembered<"yes" | "no">(`elsewhere all ${view.id}`, "no");
  const { data } = useAsked({ ...leftAloneQuery(place, view.revisions.length), enabled: goesOn(view) });
  if (!data || (data.items.length === 0 && !data.more)) return null;
  if (data.items.length === 0)
    return (
      <section className="mt-8" aria-label="Elsewhere in the code">
        <h2 className="font-serif text-xl font-semibold">Elsewhere in the code</h2>
        <p className="text-soft">
          So much changes here that uses elsewhere were not looked for: that none are named means nothing.
        </p>
      </section>
    );
  const shown = all === "yes" ? data.items : data.items.slice(0, MOST);
  return (
    <section className="mt-8" aria-label="Elsewhere in the code">
      <div className="flex items-baseline justify-between gap-4">
        <h2 className="font-serif text-xl font-semibold">Elsewhere in the code</h2>
        <button
          type="button"
          className="quiet-button"
          aria-expanded={hiding === "no"}
          onClick={() => setHiding(hiding === "yes" ? "no" : "yes")}
        >
          {hiding === "yes" ? `show ${counted(data.items.length, "hint")}` : "hide"}
        </button>
      </div>
      {hiding === "no" && (
        <>
          <p className="text-soft">Found by names, in lines that this change set leaves alone: hints, not findings.</p>
          <ul className="mt-2 divide-y divide-rule">
            {shown.map((item) => (
              <li key={`${item.what} ${item.path} ${item.line} ${item.name}`} className="py-2">
                <Hint item={item} onGo={onGo} />
              </li>
            ))}
          </ul>
          {data.items.length > shown.length && (
            <button type="button" className="quiet-button" onClick={() => setAll("yes")}>
              show {counted(data.items.length - shown.length, "hint")} more
            </button>
          )}
          {data.more && <p className="text-soft">There was too much to look through it all.</p>}
        </>
      )}
    </section>
  );
}

function Hint({ item, onGo }: { item: LeftAlone; onGo: (path: string, side: "old" | "new", line: number) => void }) {
  const { name, path, line, what, before, after, uses, count, others } = item;
  const [all, setAll] = useState(false);
  const shown = all ? uses : uses.slice(0, MOST_PLACES);
  return (
    <>
      <p>
        <button
          type="button"
          className="quiet-button font-mono text-[13px]"
          onClick={() => onGo(path, what === "removed" ? "old" : "new", line)}
        >
          {visible(name)}
        </button>{" "}
        {hintWords(item)}
        {others > 0 && count > 0 && (
          <span className="text-soft">
            {" "}
            {counted(others, "other definition")} of that name: some may be meant there.
          </span>
        )}
      </p>
      {what === "changed" && (
        <p className="truncate font-mono text-[12px] text-soft" title={`${before}\n${after}`}>
          {visible(before)} → {visible(after)}
        </p>
      )}
      {uses.length > 0 && (
        <ul className="mt-0.5">
          {shown.map((use) => (
            <li key={`${use.path} ${use.line}`} className="flex items-baseline gap-2">
              <button
                type="button"
                className="quiet-button flex-none text-[13px]"
                onClick={() => onGo(use.path, "new", use.line)}
              >
                {visible(use.path)} {use.line}
              </button>
              <code className="min-w-0 truncate font-mono text-[12px] text-soft">
                <CodeText text={use.text.trim()} />
              </code>
            </li>
          ))}
          {uses.length > shown.length && (
            <li>
              <button type="button" className="quiet-button text-[13px]" onClick={() => setAll(true)}>
                show {counted(uses.length - shown.length, "use")} more
              </button>
            </li>
          )}
          {all && count > uses.length && (
            <li className="text-[13px] text-soft">and {counted(count - uses.length, "use")} more</li>
          )}
        </ul>
      )}
    </>
  );
}

/** What a hint says of a name, as the rest of a sentence that begins with it. */
export function hintWords({ what, kind, count, tested }: LeftAlone): string {
  const places = `${counted(count, "use")} of it ${count === 1 ? "is" : "are"} not in this change set`;
  if (what === "removed") return `is gone, and ${places}.`;
  if (what === "added") return "is new, and nothing uses it.";
  if (count === 0) return "changed, and no test names it.";
  const untested = tested === false ? ", and no test names it" : "";
  return `is another ${kind === "constant" ? "value" : kind} now, and ${places}${untested}.`;
}
