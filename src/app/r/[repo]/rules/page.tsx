import { notFound } from "next/navigation";
import { atLeast } from "@/core/review/roles";
import { whoIsBehind } from "@/core/rules/facts";
import { namesOf, peopleIn } from "@/server/access/people";
import { enter } from "@/server/access/repositories";
import { editionsOf, rulesOf } from "@/server/rules/rules";
import { TopBar } from "@/ui/frame/top-bar";
import { RulesPage } from "@/ui/rules/rules-page";
import { visitor } from "../../../visitor";

export default async function Page({ params }: { params: Promise<{ repo: string }> }) {
  const { repo } = await params;
  const { app, person, me } = await visitor(`/r/${repo}/rules`);
  const entered = await enter(app, person, repo);
  if (!entered.ok) notFound();
  const { repository, role } = entered.value;
  const editions = await editionsOf(app.db, repository.id);
  const names = await namesOf(app.db);
  const people = await peopleIn(app.db, repository.id);
  return (
    <>
      <TopBar
        me={me}
        trail={[
          { label: "Desk", href: "/" },
          { label: repository.name, href: `/r/${repository.name}` },
          { label: "rules" },
        ]}
      />
      <RulesPage
        repository={repository.name}
        mayEdit={atLeast(role, "keeper")}
        rules={await rulesOf(app.db, repository.id)}
        version={editions.find(({ state }) => state === "agreed")?.version ?? null}
        people={people.filter(({ role: its, machine }) => its !== "reader" && !machine).map(({ name }) => name)}
        history={editions.map(({ version, by, at, note, rules, state, second }) => ({
          version,
          at,
          note,
          rules,
          state,
          by: by === null ? null : (names.get(by) ?? "someone"),
          second: second && (names.get(second.by) ?? "someone"),
          mine: by !== null && whoIsBehind(people)(by).includes(person.id),
        }))}
      />
    </>
  );
}
