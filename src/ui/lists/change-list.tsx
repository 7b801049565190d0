import Link from "next/link";
import type { ReactNode } from "react";
import { inFigures } from "@/core/plain/words";
import type { ChangeLine } from "@/core/views/desk-view";
import { ChangeLines } from "./change-lines";
import { shownLine } from "./shown-line";

/** So many are shown at first. */
const MOST = 50;

/** One part of a desk: change sets under a heading that says why they stand together. */
export function ChangeList({
  title,
  about,
  lines,
  empty,
  main = false,
  all,
}: {
  title: string;
  about: string;
  lines: ChangeLine[];
  empty: ReactNode;
  main?: boolean;
  /** Where all of it is shown, when it is long; null where that is here. */
  all: string | null;
}) {
  const shown = all === null ? lines : lines.slice(0, MOST);
  return (
    <section className="mt-8" aria-label={title}>
      <h2 className="font-serif text-xl font-semibold">
        {title} {lines.length > 0 && <span className="text-soft">· {lines.length}</span>}
      </h2>
      <p className="text-soft">{about}</p>
      {lines.length === 0 ? (
        <p className="mt-3 rounded-md border border-dashed border-rule px-4 py-3 text-soft">{empty}</p>
      ) : (
        <ChangeLines lines={shown.map(shownLine)} main={main} />
      )}
      {shown.length < lines.length && (
        <p className="mt-2">
          <Link
            prefetch={false}
            href={all ?? ""}
            className="text-slate underline underline-offset-2 hover:decoration-2"
          >
            Show all {inFigures(lines.length)}
          </Link>
        </p>
      )}
    </section>
  );
}
