"use client";
import Link from "next/link";
import { useEffect, useState } from "react";
import { visible } from "@/core/cautions/visible";
import { type Points, pointNames } from "@/core/reading/points";
import type { LineStep } from "@/core/views/around-view";
import { ask, reasonFrom } from "../../../asking/ask";
import { useAsked } from "../../../asking/use-asked";
import { When } from "../../../parts/when";
import { useChangeSet } from "../../state/context";

/** How long one rests on a line before its history is asked for, in milliseconds. */
const PAUSE = 250;

/** How a line came to be: the commits that touched it, the newest first, with the change sets in which they were agreed. As items of a list. */
export function LineHistory({
  points,
  side,
  path,
  line,
  before = false,
}: {
  points: Points;
  side: "old" | "new";
  path: string;
  /** 1-based. */
  line: number;
  /** It is told of the time before the change set. */
  before?: boolean;
}) {
  const { place, view } = useChangeSet();
  const rested = useRested(line);
  const query = { ...pointNames(points), side, path, line: String(line) };
  const { data, error } = useAsked({
    queryKey: ["line history", place, query],
    enabled: rested === line,
    queryFn: ({ signal }) =>
      ask("GET /api/repos/{repo}/changes/{number}/line-history", { parts: place, query, signal }),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  if (error)
    return (
      <li role="alert" className="text-clay">
        {reasonFrom(error)}
      </li>
    );
  if (!data) return <li className="text-soft">Looking back …</li>;
  return (
    <>
      {before && data.steps.length > 0 && (
        <li className="text-[13px] font-semibold text-soft">Before this change set</li>
      )}
      {data.steps.map((step) => (
        <li key={`${step.commit.id} ${step.path} ${step.line}`} className="pb-1">
          <Step step={step} repository={view.repository} />
        </li>
      ))}
      {data.steps.length === 0 && <li className="text-soft">No commit is known for it.</li>}
      {data.more && <li className="text-soft">There is more before that.</li>}
    </>
  );
}

function Step({ step, repository }: { step: LineStep; repository: string }) {
  const { commit, path, line, text, before, change } = step;
  return (
    <>
      <span className="font-serif">{commit.subject}</span>{" "}
      <span className="text-[12.5px] text-soft">
        <code className="font-mono text-[11.5px]">{commit.id.slice(0, 8)}</code> · {commit.author},{" "}
        <When at={commit.at} />
        {change && (
          <>
            {" "}
            · agreed in{" "}
            <Link className="underline" href={`/r/${repository}/c/${change.number}`}>
              change set {change.number}, {change.title}
            </Link>
          </>
        )}
      </span>
      {before !== null && (
        <span
          className="block truncate font-mono text-[12px] text-clay"
          title={`${visible(path)}, line ${line}, before`}
        >
          − {visible(before.trim())}
        </span>
      )}
      <span className="block truncate font-mono text-[12px] text-teal" title={`${visible(path)}, line ${line}`}>
        + {visible(text.trim())}
      </span>
      {change?.threads.map(({ id, by, words }) => (
        <Link
          key={id}
          className="block truncate text-[13px] text-soft hover:underline"
          href={`/r/${repository}/c/${change.number}?thread=${id}`}
        >
          {by}: {visible(words)}
        </Link>
      ))}
    </>
  );
}

/** A line, once one has rested on it. */
function useRested(line: number): number {
  const [rested, setRested] = useState(-1);
  useEffect(() => {
    const timer = setTimeout(() => setRested(line), PAUSE);
    return () => clearTimeout(timer);
  }, [line]);
  return rested;
}
