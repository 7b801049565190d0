import Link from "next/link";
import { inFigures } from "@/core/plain/words";
import type { KeptList } from "@/core/views/desk-view";

/** The lists that somebody keeps, each with how many are in it. */
export function ListLinks({ lists, query }: { lists: readonly KeptList[]; query?: string }) {
  return (
    <>
      <h2 className="font-serif text-lg font-semibold">Lists</h2>
      <ul className="mt-2 grid gap-1">
        {lists.map(({ id, name, query: asked, count, shared }) => (
          <li key={id}>
            <Link
              prefetch={false}
              href={`/lists?${new URLSearchParams({ q: asked })}`}
              aria-current={asked === query ? "page" : undefined}
              className={`flex justify-between gap-3 rounded px-2 py-1 hover:bg-brass-wash ${asked === query ? "bg-brass-wash font-semibold" : ""}`}
              title={asked}
            >
              <span className="min-w-0 truncate">
                {name}
                {shared !== null && <span className="font-normal text-soft"> · {shared}</span>}
              </span>
              <span className="flex-none text-soft">{count === null ? "?" : inFigures(count)}</span>
            </Link>
          </li>
        ))}
        <li>
          <Link
            prefetch={false}
            href="/lists"
            className="block rounded px-2 py-1 text-slate underline underline-offset-2 hover:decoration-2"
          >
            All change sets, or another list
          </Link>
        </li>
      </ul>
    </>
  );
}
