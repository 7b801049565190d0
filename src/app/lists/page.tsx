import type { Metadata } from "next";
import Link from "next/link";
import { counted } from "@/core/plain/words";
import { repositoriesOf } from "@/server/access/repositories";
import { labelsSeen } from "@/server/house/labels/labels";
import { findChanges } from "@/server/house/lists/find";
import { listsOf } from "@/server/house/lists/kept-lists";
import { peopleBeside } from "@/server/house/lists/people-beside";
import { TopBar } from "@/ui/frame/top-bar";
import { FeedOf } from "@/ui/lists/feed-of";
import { ListField } from "@/ui/lists/list-field";
import { ListLinks } from "@/ui/lists/list-links";
import { LiveDesk } from "@/ui/lists/live-desk";
import { Several } from "@/ui/lists/several";
import { ownAddress, visitor } from "../visitor";

type Asked = Promise<{ q?: string; after?: string }>;

export async function generateMetadata({ searchParams }: { searchParams: Asked }): Promise<Metadata> {
  const { q = "" } = await searchParams;
  return { title: q === "" ? "Change sets" : q };
}

/** The change sets that a query asks for, fifty on a page; the address is the list. */
export default async function Page({ searchParams }: { searchParams: Asked }) {
  const { q = "", after } = await searchParams;
  const { app, person, me } = await visitor(`/lists?${new URLSearchParams({ q })}`);
  const [found, lists, repositories, people, labels] = await Promise.all([
    findChanges(app, person, q, after ?? null),
    listsOf(app, person),
    repositoriesOf(app, person),
    peopleBeside(app, person),
    labelsSeen(app, person),
  ]);
  const kept = lists.find(({ query }) => query === q);
  return (
    <>
      <TopBar me={me} trail={[{ label: "Desk", href: "/" }, { label: kept?.name ?? "Change sets" }]} />
      <LiveDesk counting={found.ok && found.value.counting} />
      <div className="mx-auto grid max-w-6xl grid-cols-[minmax(0,1fr)_220px] gap-10 px-6 pb-16 max-md:grid-cols-1">
        <main>
          <h1 className="mt-8 font-serif text-3xl font-semibold">{kept?.name ?? "Change sets"}</h1>
          <ListField
            key={q}
            query={q}
            kept={kept ? { id: kept.id, name: kept.name, shared: kept.shared } : null}
            shareable={repositories.flatMap(({ name, role }) => (role === "keeper" ? [name] : []))}
            people={people.map(({ name }) => name)}
            repositories={repositories.map(({ name }) => name)}
            labels={labels}
          />
          {!found.ok ? (
            <p role="alert" className="mt-4 text-clay">
              {found.refusal.reason}
            </p>
          ) : (
            <>
              <p className="mt-4 text-soft" role="status">
                {found.value.count === 0 ? "Nothing fits." : `${counted(found.value.count, "change set")}.`}
                {after !== undefined && " This is a later page."}
              </p>
              {found.value.lines.length > 0 && (
                <Several
                  // What is chosen is of this page alone.
                  key={`${q} ${after}`}
                  lines={found.value.lines}
                  grouped={!/(?:^|\s)sort:/.test(q)}
                  people={people}
                  labels={labels}
                />
              )}
              <FeedOf key={q} query={q} address={await ownAddress(app)} />
              <p className="mt-3 flex gap-6">
                {after !== undefined && (
                  <Link
                    prefetch={false}
                    className="text-slate underline underline-offset-2 hover:decoration-2"
                    href={`/lists?${new URLSearchParams({ q })}`}
                  >
                    To the first page
                  </Link>
                )}
                {found.value.next && (
                  <Link
                    prefetch={false}
                    className="text-slate underline underline-offset-2 hover:decoration-2"
                    href={`/lists?${new URLSearchParams({ q, after: found.value.next })}`}
                  >
                    The next page
                  </Link>
                )}
              </p>
            </>
          )}
        </main>
        <aside className="mt-10" aria-label="Lists">
          <ListLinks lists={lists} query={q} />
        </aside>
      </div>
    </>
  );
}
