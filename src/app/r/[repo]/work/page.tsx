import { notFound } from "next/navigation";
import { atLeast } from "@/core/review/roles";
import { namesOf, peopleIn } from "@/server/access/people";
import { enter } from "@/server/access/repositories";
import { trackerOf } from "@/server/work/tracker-of";
import { TopBar } from "@/ui/frame/top-bar";
import { WorkPage } from "@/ui/repositories/work-page";
import { visitor } from "../../../visitor";

export default async function Page({ params }: { params: Promise<{ repo: string }> }) {
  const { repo } = await params;
  const { app, person, me } = await visitor(`/r/${repo}/work`);
  const entered = await enter(app, person, repo);
  if (!entered.ok) notFound();
  const { repository, role } = entered.value;
  const people = (await peopleIn(app.db, repository.id)).filter(
    ({ role: its, machine }) => its !== "reader" && !machine,
  );
  const names = await namesOf(app.db);
  const tracker = trackerOf(app, repository);
  const found = await tracker.find("");
  return (
    <>
      <TopBar
        me={me}
        trail={[
          { label: "Desk", href: "/" },
          { label: repository.name, href: `/r/${repository.name}` },
          { label: "work items" },
        ]}
      />
      <WorkPage
        repository={repository.name}
        mayWrite={atLeast(role, "contributor")}
        items={found.ok ? found.value : null}
        elsewhere={tracker.elsewhere}
        people={people.map(({ id }) => ({ id, name: names.get(id) ?? "someone" }))}
      />
    </>
  );
}
