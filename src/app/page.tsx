import Link from "next/link";
import { repositoriesOf } from "@/server/access/repositories";
import { desk } from "@/server/changes/desk";
import { ChangeList } from "@/ui/change-list";
import { TopBar } from "@/ui/top-bar";
import { visitor } from "./visitor";

export default async function Page() {
  const { app, person, me } = await visitor("/");
  const [view, repositories] = await Promise.all([desk(app, person), repositoriesOf(app, person)]);
  const first = person.fullName.split(" ")[0];
  return (
    <>
      <TopBar me={me} trail={[{ label: "Desk" }]} />
      <div className="mx-auto grid max-w-6xl grid-cols-[minmax(0,1fr)_220px] gap-10 px-6 pb-16 max-md:grid-cols-1">
        <main>
          <h1 className="mt-8 font-serif text-3xl font-semibold">{first}’s desk</h1>
          <ChangeList
            main
            title="Waits for you"
            about="You have to move next."
            lines={view.forMe}
            empty="Nothing waits for you."
          />
          <ChangeList
            title="You wait for"
            about="Others have to move next."
            lines={view.forThem}
            empty="You wait for nobody."
          />
          {view.elsewhere.length > 0 && (
            <ChangeList
              title="Open besides"
              about="Open in your repositories, without you so far."
              lines={view.elsewhere}
              empty=""
            />
          )}
          <ChangeList
            title="Settled lately"
            about="Merged or withdrawn."
            lines={view.settled}
            empty="Nothing was settled yet."
          />
        </main>
        <aside className="mt-10" aria-label="Repositories">
          <h2 className="font-serif text-lg font-semibold">Repositories</h2>
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
          {repositories.length === 0 && (
            <p className="mt-2 text-soft">
              You have no role in any repository yet. Whoever runs this installation can give you one:{" "}
              <code className="font-mono text-[12px]">lens role set</code>.
            </p>
          )}
        </aside>
      </div>
    </>
  );
}
