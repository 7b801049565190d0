import type { Metadata } from "next";
import { repositoriesOf } from "@/server/access/repositories";
import { peopleBeside } from "@/server/house/lists/people-beside";
import { noticesOf } from "@/server/news/notices";
import { wishesOf } from "@/server/news/wishes";
import { TopBar } from "@/ui/frame/top-bar";
import { LiveDesk } from "@/ui/lists/live-desk";
import { Notices } from "@/ui/notices/notices";
import { WishesForm } from "@/ui/notices/wishes-form";
import { visitor } from "../visitor";

export const metadata: Metadata = { title: "Notices" };

/** What happened that concerns who looks, by change set. */
export default async function Page() {
  const { app, person, me } = await visitor("/notices");
  return (
    <>
      <TopBar me={me} trail={[{ label: "Desk", href: "/" }, { label: "Notices" }]} />
      <LiveDesk />
      <main className="mx-auto max-w-4xl px-6 pb-16">
        <h1 className="mt-8 font-serif text-3xl font-semibold">Notices</h1>
        <p className="text-soft">
          What others did that concerns you. To hear no more of a change set, say so in its brief.
        </p>
        <Notices view={await noticesOf(app, person)} />
        <section aria-labelledby="wishes" className="mt-12">
          <h2 id="wishes" className="font-serif text-xl font-semibold">
            What you want to hear
          </h2>
          <WishesForm
            initial={await wishesOf(app.db, person.id)}
            people={(await peopleBeside(app, person)).filter(({ name }) => name !== person.name)}
            repositories={(await repositoriesOf(app, person)).map(({ name }) => name)}
          />
        </section>
      </main>
    </>
  );
}
