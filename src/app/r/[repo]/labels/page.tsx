import { notFound } from "next/navigation";
import { atLeast } from "@/core/review/roles";
import { enter } from "@/server/access/repositories";
import { labelsIn } from "@/server/house/labels/labels";
import { TopBar } from "@/ui/frame/top-bar";
import { LabelsPage } from "@/ui/labels/labels-page";
import { visitor } from "../../../visitor";

/** The labels of a repository; its keepers name them. */
export default async function Page({ params }: { params: Promise<{ repo: string }> }) {
  const { repo } = await params;
  const { app, person, me } = await visitor(`/r/${repo}/labels`);
  const entered = await enter(app, person, repo);
  if (!entered.ok) notFound();
  const { repository, role } = entered.value;
  return (
    <>
      <TopBar
        me={me}
        trail={[{ label: "Desk", href: "/" }, { label: repo, href: `/r/${repo}` }, { label: "labels" }]}
      />
      <LabelsPage repository={repo} initial={await labelsIn(app.db, repository.id)} mayEdit={atLeast(role, "keeper")} />
    </>
  );
}
