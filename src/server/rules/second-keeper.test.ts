import { afterAll, beforeAll, describe, expect } from "vitest";
import type { Outcome } from "@/core/plain/outcome";
import { newest } from "@/core/review/state";
import { story } from "@/server/testing/story";
import { findRepository, repositoriesOf } from "../access/repositories";
import { Bench, reason, value } from "../testing/bench";
import { editionsOf, keepRules, ruleFor, saveRules } from "./rules";
import { rulesThatWait, settleEdition } from "./second-keeper";

const it = story();

/** Kit keeps a repository, and would like to merge alone. */

let bench: Bench;
let work: string;
beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", { main: [{ "a.txt": "a\n" }] });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "contributor" });
  for (const name of ["kit", "mo"]) await bench.person(name, { quay: "keeper" });
  await bench.person("drone", { quay: "keeper" }, { machine: true, owner: "kit" });
  value(await save("kit", { seconded: true }));
});
afterAll(() => bench.clear());

const who = (name: string) => bench.people.get(name)!;
const count = (approvals: number) => ({ branches: "main", approvals: { count: approvals } });
const save = (by: string, said: { seconded?: boolean; count?: number }) =>
  saveRules(
    ...([bench.app, who(by), "quay"] as const),
    { seconded: said.seconded ?? true, rules: [count(said.count ?? 1), { branches: "**", direct: true }] },
    "A quiet week",
    null,
  );
const settle = (by: string, version: number, agrees: boolean) =>
  settleEdition(bench.app, who(by), "quay", version, agrees, { person: who(by).id, address: "" });
const repository = async () => (await findRepository(bench.app.db, "quay"))!;
const needed = async () => (await ruleFor(bench.app.db, (await repository()).id, "main")).approvals.count;
const last = async () => (await editionsOf(bench.app.db, (await repository()).id))[0];
const code = (outcome: Outcome<unknown>) => (outcome.ok ? "" : outcome.refusal.code);

describe("rules that take two keepers", () => {
  it("do not let one take the gate away and merge", async () => {
    await bench.git(work, "checkout", "--quiet", "-B", "topic", "main");
    await bench.commit(work, "more", { "b.txt": "b\n" });
    await bench.push("kit", "quay", "topic", "refs/heads/topic");
    const { number } = value(await bench.open("kit", "quay", "topic"));
    const merge = () => bench.do("kit", "quay", number, { kind: "merge", revision: 1, message: "Mine" });
    expect(reason(await merge())).toMatch(/0 of 1 approval/);
    const edition = value(await save("kit", { count: 0 }));
    expect([edition.state, await needed()]).toEqual(["waits", 1]);
    expect(reason(await merge())).toMatch(/0 of 1 approval/);
    // Nor by agreeing to it, as themselves, as their machine, or as somebody who keeps nothing.
    expect(reason(await settle("kit", edition.version, true))).toMatch(/another keeper agrees/);
    expect(reason(await settle("drone", edition.version, true))).toMatch(/for a person/);
    expect(code(await settle("ada", edition.version, true))).toBe("forbidden");
    // Nor by taking away first that it takes two.
    expect(code(await save("kit", { seconded: false, count: 0 }))).toBe("conflict");
    value(await settle("kit", edition.version, false));
    expect(value(await save("drone", { seconded: false, count: 0 })).state).toBe("waits");
    expect(reason(await settle("kit", (await last()).version, true))).toMatch(/another keeper agrees/);
    expect(await needed()).toBe(1);
    expect(newest((await bench.change("quay", number)).change).number).toBe(1);
    expect((await bench.change("quay", number)).change.state).toBe("open");
    value(await settle("mo", (await last()).version, false));
  });

  it("wait on the desk of the others, and count from when one of them agrees", async () => {
    const { version } = value(await save("kit", { count: 2 }));
    const waiting = async (name: string) =>
      rulesThatWait(bench.app, who(name), await repositoriesOf(bench.app, who(name)));
    expect(await waiting("mo")).toEqual([{ repository: "quay", version }]);
    for (const name of ["kit", "ada", "drone"]) expect(await waiting(name)).toEqual([]);
    const agreed = value(await settle("mo", version, true));
    expect([agreed.state, agreed.second?.by, await needed()]).toEqual(["agreed", who("mo").id, 2]);
    expect(await waiting("mo")).toEqual([]);
    expect(code(await settle("mo", version, false))).toBe("conflict");
    expect(code(await settle("mo", version + 1, true))).toBe("missing");
    const audited = await bench.app.db.selectFrom("audit").select("what").orderBy("id", "desc").execute();
    expect(audited[0].what).toBe("rules-agreed");
  });

  it("are nothing to who has the data itself: what they keep counts, and what waited never does", async () => {
    const { version } = value(await save("kit", { count: 0 }));
    const rules = { seconded: true, rules: [count(3), { branches: "**", direct: true }] };
    const kept = value(await keepRules(bench.app, await repository(), null, rules, "", null));
    expect([kept.version, kept.state, await needed()]).toEqual([version + 1, "agreed", 3]);
    expect(code(await settle("mo", version, true))).toBe("conflict");
    expect(await needed()).toBe(3);
  });

  it("say so where there is no second keeper", async () => {
    await bench.takeIn("pier", work);
    await bench.person("lone", { pier: "keeper" });
    const rules = { seconded: true, rules: [count(0), { branches: "**", direct: true }] };
    const { notes } = value(await saveRules(bench.app, who("lone"), "pier", rules, "", null));
    expect(notes.join(" ")).toMatch(/there is only lone/);
  });
});
