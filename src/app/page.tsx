import type { Metadata } from "next";
import Link from "next/link";
import { cache } from "react";
import { counted } from "@/core/plain/words";
import { repositoriesOf } from "@/server/access/repositories";
import { desk } from "@/server/changes/desk";
import { listsOf } from "@/server/house/lists/kept-lists";
import { namesToMake } from "@/server/keeping/own-repositories";
import { rulesThatWait } from "@/server/rules/second-keeper";
import { TopBar } from "@/ui/frame/top-bar";
import { ChangeList } from "@/ui/lists/change-list";
import { ListLinks } from "@/ui/lists/list-links";
import { LiveDesk } from "@/ui/lists/live-desk";
import { MakeRepository } from "@/ui/repositories/make-repository";
import { RulesThatWait } from "@/ui/rules/rules-that-wait";
import { visitor } from "./visitor";

/** The desk of who asks, looked up once for the page and its title. */
const ownDesk = cache(async () => {
  const { app, person, me } = await visitor("/");
  const repositories = await repositoriesOf(app, person);
  return { app, person, me, repositories, view: await desk(app, person, { seen: repositories }) };
});

/** The title of its tab says how much waits. */
export async function generateMetadata(): Promise<Metadata> {
  const { forMe } = (await ownDesk()).view;
  return { title: forMe.length > 0 ? `(${forMe.length}) Desk` : "Desk" };
}

export default async function Page({ searchParams }: { searchParams: Promise<{ all?: string }> }) {
  const { all } = await searchParams;
  const { app, person, me, repositories, view } = await ownDesk();
  const [lists, names] = await Promise.all([listsOf(app, person, repositories), namesToMake(app, person)]);
  const rules = await rulesThatWait(app, person, repositories);
  const first = person.fullName.split(" ")[0];
  return (
    <>
      <TopBar me={me} trail={[{ label: "Desk" }]} />
      <LiveDesk counting={view.counting} />
      <div className="mx-auto grid max-w-6xl grid-cols-[minmax(0,1fr)_220px] gap-10 px-6 pb-16 max-md:grid-cols-1">
        <main>
          <h1 className="mt-8 font-serif text-3xl font-semibold">{first}’s desk</h1>
          <RulesThatWait editions={rules} />
          <ChangeList
            main
            title="Waits for you"
            all={all === "forMe" ? null : "/?all=forMe"}
            about="Asked of you, answered to you, or yours to mend."
            lines={view.forMe}
            empty="Nothing waits for you."
          />
          <ChangeList
            title="You wait for"
            all={all === "forThem" ? null : "/?all=forThem"}
            about="Others have to move next."
            lines={view.forThem}
            empty="You wait for nobody."
          />
          {view.couldBe.length > 0 && (
            <ChangeList
              title="You could help"
              all={all === "couldBe" ? null : "/?all=couldBe"}
              about="Nobody asked you by name; an approval or a merge of yours would bring it on."
              lines={view.couldBe}
              empty=""
            />
          )}
          {view.elsewhere.length > 0 && (
            <ChangeList
              title="Open besides"
              all={all === "elsewhere" ? null : "/?all=elsewhere"}
              about="Open in your repositories, without you."
              lines={view.elsewhere}
              empty=""
            />
          )}
          {view.more > 0 && (
            <p className="mt-6 text-soft">
              <Link
                prefetch={false}
                className="text-slate underline underline-offset-2 hover:decoration-2"
                href="/lists?q=state%3Agoing"
              >
                {counted(view.more, "more change set")}
              </Link>{" "}
              {view.more === 1 ? "is" : "are"} open in your repositories, with which you have nothing to do so far.
            </p>
          )}
          <ChangeList
            title="Settled lately"
            all={null}
            about="Merged or withdrawn."
            lines={view.settled}
            empty="Nothing was settled yet."
          />
        </main>
        <aside className="mt-10" aria-label="Lists and repositories">
          <ListLinks lists={lists} />
          <h2 className="mt-8 font-serif text-lg font-semibold">Repositories</h2>
          <ul className="mt-2 grid gap-1">
            {repositories.map(({ id, name, role }) => (
              <li key={id}>
                <Link
                  prefetch={false}
                  href={`/r/${name}`}
                  className="flex justify-between gap-3 rounded px-2 py-1 hover:bg-brass-wash"
                >
                  <span className="truncate font-semibold">{name}</span>
                  <span className="text-soft">{role}</span>
                </Link>
              </li>
            ))}
          </ul>
          {names !== null && repositories.length > 0 && <MakeRepository names={names} />}
          {repositories.length === 0 && (
            <p className="mt-2 text-soft">
              {person.administrator ? (
                <>
                  There is none yet.{" "}
                  <Link
                    prefetch={false}
                    className="text-slate underline underline-offset-2 hover:decoration-2"
                    href="/keeping?tab=repositories"
                  >
                    Take one in
                  </Link>
                  .
                </>
              ) : (
                "You have no role in any repository yet. Whoever keeps this installation can give you one."
              )}
            </p>
          )}
        </aside>
      </div>
    </>
  );
}
