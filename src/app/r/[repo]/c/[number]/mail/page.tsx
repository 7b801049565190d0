import { notFound } from "next/navigation";
import { numberOf } from "@/server/app/http/http";
import { findChange } from "@/server/changes/changes";
import { follows } from "@/server/news/following";
import { TopBar } from "@/ui/frame/top-bar";
import { FollowChoice } from "@/ui/notices/follow-choice";
import { visitor } from "../../../../../visitor";

/** Where mail about a change set is turned off and on: every letter has its address. */
export default async function Page({ params }: { params: Promise<{ repo: string; number: string }> }) {
  const { repo, number } = await params;
  const { app, person, me } = await visitor(`/r/${repo}/c/${number}/mail`);
  const found = await findChange(app, person, repo, numberOf(number));
  if (!found.ok) notFound();
  const address = `/r/${repo}/c/${number}`;
  return (
    <>
      <TopBar
        me={me}
        trail={[
          { label: "Desk", href: "/" },
          { label: repo, href: `/r/${repo}` },
          { label: `change set ${number}`, href: address },
          { label: "mail" },
        ]}
      />
      <main className="mx-auto max-w-2xl px-6 py-10">
        <h1 className="font-serif text-2xl font-semibold">{found.value.change.title}</h1>
        <FollowChoice place={{ repo, number }} follows={await follows(app, person, found.value.change)} />
      </main>
    </>
  );
}
