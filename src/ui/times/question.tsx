import Link from "next/link";
import type { ReactNode } from "react";
import type { ChangeRef } from "@/core/house/times/times";

/** How axes look. */
export const AXIS = {
  stroke: "var(--soft)",
  tick: { fill: "var(--soft)", fontSize: 12 },
  tickLine: false,
  axisLine: false,
} as const;

/** One question and what answers it. */
export function Question(props: { question: string; about: string; empty?: boolean; children: ReactNode }) {
  const { question, about, empty = false, children } = props;
  return (
    <section aria-label={question} className="mt-10">
      <h2 className="font-serif text-xl font-semibold">{question}</h2>
      <p className="mb-2 text-soft">{about}</p>
      {empty ? (
        <p className="rounded-md border border-dashed border-rule px-4 py-3 text-soft">Nothing yet.</p>
      ) : (
        children
      )}
    </section>
  );
}

/** Change sets that a figure is made of. */
export function Changes({ changes }: { changes: readonly ChangeRef[] }) {
  return (
    <ul className="pb-1">
      {changes.map(({ repository, number, title }) => (
        <li key={`${repository} ${number}`}>
          <Link
            prefetch={false}
            href={`/r/${repository}/c/${number}`}
            className="text-slate underline underline-offset-2 hover:decoration-2"
          >
            {repository} {number}
          </Link>{" "}
          {title}
        </li>
      ))}
    </ul>
  );
}
