import type { Metadata } from "next";
import { noticesOf } from "@/server/news/notices";
import { LiveDesk } from "@/ui/live-desk";
import { Notices } from "@/ui/notices/notices";
import { TopBar } from "@/ui/top-bar";
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
      </main>
    </>
  );
}
