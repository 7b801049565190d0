import { notFound } from "next/navigation";
import { hooksOf } from "@/server/hooks/hooks";
import { TopBar } from "@/ui/frame/top-bar";
import { HooksPage } from "@/ui/hooks/hooks-page";
import { visitor } from "../../../visitor";

/** The addresses that are told what happens in a repository, for its keepers. */
export default async function Page({ params }: { params: Promise<{ repo: string }> }) {
  const { repo } = await params;
  const { app, person, me } = await visitor(`/r/${repo}/hooks`);
  const hooks = await hooksOf(app, person, repo);
  if (!hooks.ok) notFound();
  return (
    <>
      <TopBar
        me={me}
        trail={[{ label: "Desk", href: "/" }, { label: repo, href: `/r/${repo}` }, { label: "other systems" }]}
      />
      <HooksPage repository={repo} initial={hooks.value} within={app.settings.hooksWithin} />
    </>
  );
}
