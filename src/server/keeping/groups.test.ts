import { afterAll, beforeAll, describe, expect } from "vitest";
import { evaluateGate } from "@/core/rules/gate";
import { peopleIn, roleOf, setRole, shareRepository } from "../access/people";
import { findRepository, repositoriesOf } from "../access/repositories";
import { gateFactsFor, Look } from "../rules/facts";
import { Bench, reason, value } from "../testing/bench";
import { story } from "../testing/story";
import { accounts, changeAccount } from "./accounts";
import { dropGroup, groupsOf, keepGroup } from "./groups";
import { changeRepository, removeDeleted } from "./repositories";

const it = story();

let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", { main: [{ "a.txt": "a\n" }], topic: [{ "a.txt": "b\n" }] });
  await bench.takeIn("quay", work);
  await bench.takeIn("mole", work);
  await bench.person("ada", { quay: "contributor" });
  await bench.person("ben", { quay: "reader" });
  await bench.person("cy");
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

const doer = { person: null, address: "test" };
const who = (name: string) => bench.people.get(name)!;
const role = async (name: string, repository = "quay") =>
  roleOf(bench.app.db, who(name).id, (await findRepository(bench.app.db, repository))!.id);
const keep = (members: string[], roles: Record<string, "reader" | "contributor" | "keeper">) =>
  keepGroup(bench.app, doer, { name: "crew", members, roles });
const approve = (name: string) =>
  bench.do(name, "quay", 1, { kind: "send-review", revision: 1, verdict: "approve", remark: "" });

describe("groups", () => {
  it("let their members do the most of what they have themselves and by them", async () => {
    expect(reason(await approve("ben"))).toMatch(/reader/i);
    value(await keep(["ben", "cy"], { quay: "contributor", mole: "reader" }));
    expect([await role("ada"), await role("ben"), await role("cy"), await role("cy", "mole")]).toEqual([
      ...["contributor", "contributor", "contributor"],
      "reader",
    ]);
    value(await approve("ben"));
    expect((await repositoriesOf(bench.app, who("cy"))).map(({ name }) => name)).toEqual(["mole", "quay"]);
    expect(await shareRepository(bench.app, who("cy"), who("ada"))).toBe(true);
    const { id } = (await findRepository(bench.app.db, "quay"))!;
    expect((await peopleIn(bench.app.db, id)).map((one) => `${one.name} ${one.role}`).sort()).toEqual([
      ...["ada contributor", "ben contributor", "cy contributor"],
    ]);
    // What somebody has themselves is not less for being in a group.
    value(await keep(["ada", "ben", "cy"], { quay: "reader" }));
    expect([await role("ada"), await role("ben"), await role("cy")]).toEqual(["contributor", "reader", "reader"]);
  });

  it("end what they gave when somebody leaves, and approvals of who lost a role stop counting", async () => {
    value(await keep(["ben"], { quay: "contributor" }));
    const approvals = async () => {
      const { change } = await bench.change("quay", 1);
      const look = new Look(bench.app.db);
      const rule = await look.rule(change.repository, change.target);
      const { conditions } = evaluateGate(
        change,
        rule,
        await gateFactsFor(bench.app, bench.app.db, change, rule, look),
      );
      return conditions.find(({ key }) => key === "approvals")?.people.length;
    };
    expect(await approvals()).toBe(1);
    value(await keep([], { quay: "contributor" }));
    expect([await role("ben"), await role("cy")]).toEqual(["reader", null]);
    expect(await approvals()).toBe(0);
    expect(await repositoriesOf(bench.app, who("cy"))).toEqual([]);
  });

  it("refuse who and what is not there, and change nothing then", async () => {
    value(await keep(["cy"], { quay: "contributor" }));
    expect(reason(await keep(["cy", "nobody-here"], { quay: "keeper" }))).toMatch(/Nobody has the name nobody-here/);
    expect(reason(await keep(["cy"], { nowhere: "keeper" }))).toMatch(/no repository nowhere/);
    expect(await groupsOf(bench.app)).toEqual([
      { name: "crew", members: ["cy"], roles: [{ repository: "quay", role: "contributor" }] },
    ]);
  });

  it("stand beside the roles that somebody has themselves, which are given and taken as before", async () => {
    const cy = async () => (await accounts(bench.app)).find(({ name }) => name === "cy");
    expect(await cy()).toMatchObject({ roles: [], groups: ["crew"] });
    value(await changeAccount(bench.app, doer, "cy", { kind: "role", repository: "quay", role: "keeper" }));
    expect([await role("cy"), (await cy())?.roles]).toEqual(["keeper", [{ repository: "quay", role: "keeper" }]]);
    value(await setRole(bench.app, "cy", "quay", null));
    expect(await role("cy")).toBe("contributor");
  });

  it("go, and what they gave in a repository goes with that", async () => {
    value(await keep(["cy"], { quay: "contributor", mole: "keeper" }));
    value(await changeRepository(bench.app, doer, "mole", { kind: "delete", name: "mole" }));
    bench.pass(20 * 86_400_000);
    expect(await removeDeleted(bench.app)).toBe(1);
    expect((await groupsOf(bench.app))[0].roles).toEqual([{ repository: "quay", role: "contributor" }]);
    value(await dropGroup(bench.app, doer, "crew"));
    expect([await role("cy"), await groupsOf(bench.app)]).toEqual([null, []]);
    expect(reason(await dropGroup(bench.app, doer, "crew"))).toMatch(/no group/);
  });
});
