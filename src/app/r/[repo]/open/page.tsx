import { notFound } from "next/navigation";
import { branchesOf, enter } from "@/server/access/repositories";
import { TopBar } from "@/ui/frame/top-bar";
import { OpenChange } from "@/ui/opening/open-change";
import { visitor } from "../../../visitor";

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ repo: string }>;
  searchParams: Promise<{ source?: string; target?: string }>;
}) {
  const { repo } = await params;
  const { source, target } = await searchParams;
  const { app, person, me } = await visitor(`/r/${repo}/open`);
  const entered = await enter(app, person, repo, "contributor");
  if (!entered.ok) notFound();
  const { repository, folder } = entered.value;
  const branches = await branchesOf(folder);
  return (
    <>
      <TopBar
        me={me}
        trail={[
          { label: "Desk", href: "/" },
          { label: repository.name, href: `/r/${repository.name}` },
          { label: "Open a change set" },
        ]}
      />
      <main className="mx-auto max-w-3xl px-6 pb-16">
        <h1 className="mt-8 font-serif text-3xl font-semibold">Open a change set</h1>
        <p className="text-soft">Offer a branch of {repository.name} to another. What it changes is recorded as r1.</p>
        <OpenChange
          repository={repository.name}
          branches={branches}
          source={source ?? ""}
          target={target ?? repository.defaultBranch}
        />
      </main>
    </>
  );
}
