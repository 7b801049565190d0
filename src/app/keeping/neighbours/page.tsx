import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { accounts } from "@/server/keeping/accounts";
import { keptRepositories } from "@/server/keeping/repositories";
import { neighboursView } from "@/server/ledger/neighbour-care";
import { TopBar } from "@/ui/frame/top-bar";
import { NeighboursPage } from "@/ui/neighbours/neighbours-page";
import { visitor } from "../../visitor";

export const metadata: Metadata = { title: "Other servers" };

/** Other servers that hold the reviews of the same repositories, and who their people are here. */
export default async function Page() {
  const { app, person, me } = await visitor("/keeping/neighbours");
  if (!person.administrator) notFound();
  const initial = await neighboursView(app);
  const strangers = new Set(initial.strangers.map(({ name }) => name));
  const people = (await accounts(app)).filter(({ name, machine }) => !machine && !strangers.has(name));
  return (
    <>
      <TopBar
        me={me}
        trail={[{ label: "Desk", href: "/" }, { label: "Keeping", href: "/keeping" }, { label: "other servers" }]}
      />
      <NeighboursPage
        initial={initial}
        repositories={(await keptRepositories(app)).map(({ name }) => name)}
        people={people.map(({ name }) => name)}
      />
    </>
  );
}
