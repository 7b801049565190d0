import { afterAll, beforeAll, describe, expect } from "vitest";
import { wholeView } from "@/core/doors/endpoints/change-view";
import type { CommandRequest } from "@/core/review/families/table";
import { newest } from "@/core/review/state";
import { branchCommit } from "@/git/repository";
import { story } from "@/server/testing/story";
import { setRole } from "../access/people";
import { findRepository } from "../access/repositories";
import { changeParts } from "../changes/views";
import { report } from "../checks/checking";
import { EventHandlers } from "../merging/event-handlers";
import { Bench, reason, value } from "../testing/bench";
import { keepRules } from "./rules";

const it = story();

/** Each begins as the person named would try to get unreviewed work merged, and ends with the gate holding. */

let bench: Bench;
let work: string;
let next = 0;

const approve = (revision: number): CommandRequest => ({
  kind: "send-review",
  revision,
  verdict: "approve",
  remark: "",
});
const merge = (revision: number): CommandRequest => ({ kind: "merge", revision, message: "Merge it" });

beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", { main: [{ "a.txt": "a\n" }] });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "contributor" });
  await bench.person("ben", { quay: "contributor" });
  await bench.person("cy", { quay: "contributor" });
  await bench.person("kit", { quay: "keeper" });
  await bench.person("gauge", { quay: "contributor" }, { machine: true });
  await bench.person("robot", { quay: "contributor" }, { machine: true, owner: "ada" });
  await rules({ branches: "main" }, { branches: "**", direct: true });
});
afterAll(() => bench.clear());

async function rules(...given: object[]) {
  const row = await bench.app.db.selectFrom("repositories").selectAll().executeTakeFirstOrThrow();
  const repository = (await findRepository(bench.app.db, row.name))!;
  return value(await keepRules(bench.app, repository, null, { rules: given }, "", null));
}

/** A commit on a new branch of the work tree, of main or of another branch; gives the name of the branch. */
async function branch(from = "main"): Promise<string> {
  const name = `work-${++next}`;
  await bench.git(work, "checkout", "--quiet", "-B", name, from);
  await more();
  return name;
}
async function more(): Promise<void> {
  await bench.commit(work, `more ${++next}`, { [`file-${next}.txt`]: `${next}\n` });
}
const push = (by: string, name: string, options: string[] = []) =>
  bench.push(by, "quay", name, `refs/heads/${name}`, options);
/** Pushed and opened by the same person; gives its number. */
async function offer(by: string, name: string, target = "main"): Promise<number> {
  await push(by, name);
  return value(await bench.open(by, "quay", name, target)).number;
}
const act = (by: string, number: number, request: CommandRequest) => bench.do(by, "quay", number, request);
const state = async (number: number) => (await bench.change("quay", number)).change;
/** A change set as somebody's page has it. */
async function view(number: number, by = "kit") {
  const { change } = await bench.change("quay", number);
  const repository = { id: change.repository, name: "quay" } as never;
  return wholeView(await changeParts(bench.app, bench.people.get(by)!, repository, change));
}
const gate = async (number: number, by = "kit") => (await view(number, by)).gate;
const unmet = async (number: number) =>
  (await gate(number)).conditions
    .filter(({ met }) => !met)
    .map(({ says }) => says)
    .join(" ");

describe("whose work it is", () => {
  it("is told by who pushed it: opened by a colleague, the pusher’s approval does not count", async () => {
    const name = await branch();
    await push("ada", name);
    const { number } = value(await bench.open("ben", "quay", name));
    expect(newest(await state(number)).pusher).toBe(bench.people.get("ada")!.id);
    value(await act("ada", number, approve(1)));
    expect(reason(await act("ben", number, merge(1)))).toMatch(/1 approval of who pushed last does not count/);
    expect((await gate(number)).conditions[0].canMeet).not.toContain(bench.people.get("ada")!.id);
  });

  it("stays so when a colleague records it by the button, or opens it again", async () => {
    const name = await branch();
    const number = await offer("ada", name);
    value(await act("ada", number, { kind: "withdraw" }));
    await more();
    await push("ada", name);
    value(await act("kit", number, { kind: "open-again" }));
    value(await act("kit", number, { kind: "revise" }));
    const revision = newest(await state(number));
    expect([revision.by, revision.pusher]).toEqual([bench.people.get("kit")!.id, bench.people.get("ada")!.id]);
  });

  it("is a person’s when a machine opens it, and that person’s whose machine pushed it", async () => {
    const name = await branch();
    await push("ada", name);
    const { number } = value(await bench.open("gauge", "quay", name));
    expect((await state(number)).author).toBe(bench.people.get("ada")!.id);
    expect(reason(await act("ada", number, approve(1)))).toMatch(/your own change set/);
    const second = await branch();
    await push("robot", second);
    const { number: other } = value(await bench.open("ben", "quay", second));
    value(await act("ada", other, approve(1)));
    expect(await unmet(other)).toMatch(/1 approval of who pushed last does not count/);
    const third = await branch();
    await push("gauge", third);
    expect(reason(await bench.open("gauge", "quay", third))).toMatch(/A machine account is nobody’s colleague/);
  });

  it("by rule also of who committed some of it, pushed an earlier revision, or suggested what was taken", async () => {
    await rules({ branches: "main", approvals: { makers: false } }, { branches: "**", direct: true });
    const name = await branch();
    const number = await offer("ada", name);
    await more();
    await push("ben", name);
    await bench.git(
      work,
      "-c",
      "user.name=c",
      "-c",
      "user.email=c@x",
      "commit",
      "--allow-empty",
      "--quiet",
      "-m",
      "x",
      "--author",
      "Cy <CY@x.example>",
    );
    await push("ada", name);
    for (const who of ["ben", "cy"]) value(await act(who, number, approve(3)));
    expect(await unmet(number)).toMatch(/2 approvals of someone who made some of it do not count/);
    value(await act("kit", number, approve(3)));
    expect((await gate(number)).open).toBe(true);
    await rules({ branches: "main" }, { branches: "**", direct: true });
  });

  it("is for people to approve and merge: a machine never does", async () => {
    const number = await offer("ada", await branch());
    value(await setRole(bench.app, "gauge", "quay", "keeper"));
    expect(reason(await act("gauge", number, approve(1)))).toMatch(/a verdict is for people/);
    value(await act("ben", number, approve(1)));
    expect(reason(await act("gauge", number, merge(1)))).toMatch(/A machine account does not merge/);
    value(await setRole(bench.app, "gauge", "quay", "contributor"));
  });

  it("is not for a keeper to clear of what was asked of it when it is their own", async () => {
    const name = await branch();
    const number = await offer("kit", name);
    value(await act("ben", number, { kind: "send-review", revision: 1, verdict: "request-changes", remark: "No." }));
    const lift: CommandRequest = { kind: "lift", person: bench.people.get("ben")!.id, reason: "I think it is fine." };
    expect(reason(await act("kit", number, lift))).toMatch(/for another keeper to lift/);
    // What one's machine pushed is one's own.
    await bench.person("drone", { quay: "contributor" }, { machine: true, owner: "kit" });
    const other = await branch();
    const theirs = await offer("ada", other);
    await more();
    await push("drone", other);
    value(await act("ben", theirs, { kind: "send-review", revision: 2, verdict: "request-changes", remark: "No." }));
    expect(reason(await act("kit", theirs, lift))).toMatch(/for another keeper to lift/);
    expect((await view(theirs)).me.lift).toMatchObject({ may: false });
    value(await setRole(bench.app, "cy", "quay", "keeper"));
    value(await act("cy", theirs, lift));
    value(await setRole(bench.app, "cy", "quay", "contributor"));
  });
});

describe("an asked merge", () => {
  it("falls when someone else pushes, and is not done in the name of who asked", async () => {
    const name = await branch();
    const number = await offer("ada", name);
    value(await act("ada", number, { kind: "merge-when-open", revision: 1, how: "merge", message: null }));
    await more();
    const told = await push("ben", name);
    expect(told).toMatch(/not merged by itself any more/);
    value(await act("cy", number, approve(2)));
    await new EventHandlers(bench.app).step();
    const after = await state(number);
    expect(after).toMatchObject({
      state: "open",
      mergeAsked: null,
      mergeFailed: { asker: bench.people.get("ada")!.id, why: expect.stringMatching(/r2 was pushed by someone else/) },
    });
  });

  it("stays when who asked pushes again, and ends when they may not merge any more", async () => {
    const name = await branch();
    const number = await offer("ben", name);
    value(await act("ben", number, { kind: "merge-when-open", revision: 1, how: "merge", message: null }));
    await more();
    await push("ben", name);
    expect((await state(number)).mergeAsked?.by).toBe(bench.people.get("ben")!.id);
    value(await act("cy", number, approve(2)));
    value(await setRole(bench.app, "ben", "quay", "reader"));
    await new EventHandlers(bench.app).step();
    expect((await state(number)).state).toBe("open");
    value(await setRole(bench.app, "ben", "quay", "contributor"));
  });
});

describe("a required check", () => {
  const told = (by: string, commit: string, state: "passed" | "failed") =>
    report(bench.app, bench.people.get(by)!, "quay", commit, { name: "build", state, summary: "", link: "" });

  it("is believed from machines of the house only, as the worse of what they say", async () => {
    await rules({ branches: "main", approvals: { count: 0 }, checks: ["build"] }, { branches: "**", direct: true });
    const number = await offer("ada", await branch());
    const { head } = newest(await state(number));
    for (const by of ["ada", "ben", "kit", "robot"]) value(await told(by, head, "passed"));
    expect(reason(await act("ada", number, merge(1)))).toMatch(/build has not reported.*from no machine that counts/);
    value(await told("gauge", head, "passed"));
    expect((await gate(number)).open).toBe(true);
    value(await setRole(bench.app, "robot", "quay", "keeper"));
    value(await told("robot", head, "failed"));
    // Ada is no keeper, so her machine is not believed, whatever its own role.
    expect((await gate(number)).open).toBe(true);
    await rules(
      { branches: "main", approvals: { count: 0 }, checks: ["build"], checksFrom: ["gauge", "robot"] },
      { branches: "**", direct: true },
    );
    expect(await unmet(number)).toMatch(/The check build failed/);
    // A keeper's machine is believed, and not of what another machine of theirs pushed.
    await rules({ branches: "main", approvals: { count: 0 }, checks: ["build"] }, { branches: "**", direct: true });
    for (const name of ["pusher", "prober"])
      await bench.person(name, { quay: "contributor" }, { machine: true, owner: "kit" });
    const name = await branch();
    const second = await offer("ada", name);
    value(await told("prober", newest(await state(second)).head, "passed"));
    expect((await gate(second)).open).toBe(true);
    await more();
    await push("pusher", name);
    value(await told("prober", newest(await state(second)).head, "passed"));
    expect(await unmet(second)).toMatch(/build has not reported on r2 yet.*no machine that counts/);
    await rules({ branches: "main" }, { branches: "**", direct: true });
  });
});

describe("a steward", () => {
  it("is asked about a file under the name that it has in the target, whatever it is called where the branch began", async () => {
    await bench.git(work, "checkout", "--quiet", "-B", "main", "main");
    const deep = Array.from({ length: 30 }, (_, i) => `deep ${i}\n`);
    await bench.commit(work, "deep", { "deep.txt": deep.join("") });
    await rules({ branches: "**", direct: true });
    await push("kit", "main");
    const old = await branch();
    await bench.commit(work, "harmless", { "deep.txt": deep.with(3, "shallow\n").join("") });
    await bench.git(work, "checkout", "--quiet", "main");
    await bench.commit(work, "kept by kit", { "locks/deep.txt": deep.join(""), "deep.txt": null });
    await push("kit", "main");
    const stewards = [{ paths: "locks/**", of: ["kit"] }];
    await rules({ branches: "main", stewards }, { branches: "**", direct: true });
    await bench.git(work, "checkout", "--quiet", old);
    const number = await offer("ada", old);
    value(await act("ben", number, approve(1)));
    expect(await unmet(number)).toMatch(/A steward of locks\/\*\* must agree: locks\/deep\.txt/);
    value(await act("kit", number, approve(1)));
    value(await act("ada", number, merge(1)));
    await rules({ branches: "main" }, { branches: "**", direct: true });
  });
});

describe("a lost role", () => {
  it("takes the approvals given in it along, at once, and says so", async () => {
    const number = await offer("ada", await branch());
    value(await act("cy", number, approve(1)));
    expect((await gate(number)).open).toBe(true);
    value(await setRole(bench.app, "cy", "quay", "reader"));
    expect(reason(await act("ada", number, merge(1)))).toMatch(
      /1 approval of someone who may not approve here any more no longer counts/,
    );
    value(await setRole(bench.app, "cy", "quay", "contributor"));
  });
});

describe("refs that are not to go, nor to come", () => {
  it("are never deleted by a rule: the default branch, a guarded one, one that something is offered to", async () => {
    await rules({ branches: "**", direct: true, deleteSource: true, approvals: { count: 0 } });
    await push("ada", "main");
    await bench.git(work, "checkout", "--quiet", "main");
    await more();
    await push("ada", "main");
    const name = "aside";
    await bench.git(work, "branch", "-f", name, "main~1");
    await push("ada", name);
    const { number } = value(await bench.open("ada", "quay", "main", name));
    value(await act("ada", number, merge(1)));
    await new EventHandlers(bench.app).step();
    const { folder } = await bench.change("quay", number);
    expect(await branchCommit(folder, "main")).not.toBeNull();
    expect(await bench.push("ada", "quay", null, "refs/heads/main")).toMatch(/default branch cannot be deleted/);
    await rules({ branches: "main" }, { branches: "release/*" }, { branches: "**", direct: true });
    const upper = await branch("main");
    await offer("ada", upper, name);
    expect(await bench.push("ada", "quay", null, `refs/heads/${name}`)).toMatch(/is offered to this branch/);
    // A guarded branch begins with what is in another, or in an empty repository: with nothing else.
    expect(await bench.push("ada", "quay", upper, "refs/heads/release/1")).toMatch(/by a change set only/);
    expect(await bench.push("ada", "quay", "main", "refs/heads/release/1")).not.toMatch(/only/);
  });

  it("keep their names to themselves", async () => {
    for (const [ref, why] of [
      ["refs/heads/HEAD", /git’s own/],
      ["refs/heads/refs/heads/main", /another ref/],
      [`refs/heads/${"a".repeat(40)}`, /for a commit/],
      ["refs/heads/ma\u200bin", /cannot be seen/],
      ["refs/heads/m\u0430in", /be taken for main/],
      ["refs/tags/main", /before the branch/],
      ["refs/notes/x", /only branches and tags/],
    ] as [string, RegExp][])
      expect(await bench.push("kit", "quay", "main", ref)).toMatch(why);
  });

  it("as tags, are made by contributors, and moved and deleted by keepers", async () => {
    expect(await bench.push("ada", "quay", "main", "refs/tags/v1")).toBe("");
    expect(await bench.push("ada", "quay", "main~1", "refs/tags/v1")).toMatch(/tags are moved here by keepers only/);
    expect(await bench.push("ada", "quay", null, "refs/tags/v1")).toMatch(/tags are deleted here by keepers only/);
    expect(await bench.push("kit", "quay", null, "refs/tags/v1")).toBe("");
    expect(await push("ada", "main", ["titel=x"])).toMatch(/“titel” means nothing here.*-o title=.*-o draft/);
  });
});

describe("a branch that went back", () => {
  it("is a revision like any other, and never merges with what was taken back", async () => {
    const name = await branch();
    await more();
    const number = await offer("ada", name);
    await bench.git(work, "reset", "--hard", "--quiet", "HEAD~1");
    expect(await push("ada", name)).toMatch(
      /went back by 1 commit: what r1 had beyond it is taken back\.\nr2 of change set/,
    );
    expect(newest(await state(number))).toMatchObject({ number: 2, how: "back", same: false });
    await more();
    const folder = (await bench.change("quay", number)).folder;
    // As it is between a push and its being recorded.
    await bench.git(folder, "fetch", "--quiet", work, `+${name}:${name}`);
    value(await act("ben", number, approve(2)));
    expect(reason(await act("ada", number, merge(2)))).toMatch(/The branch has moved on/);
    await bench.git(folder, "update-ref", "-d", `refs/heads/${name}`);
    expect(await unmet(number)).toMatch(/is gone/);
  });
});

describe("a chain", () => {
  it("is shown, and goes to the lower one’s target when that is merged", async () => {
    const lower = await branch();
    const low = await offer("ada", lower);
    const upper = await branch(lower);
    const up = await offer("ben", upper, lower);
    value(await act("cy", up, approve(1)));
    expect((await view(up)).chain.on?.number).toBe(low);
    expect((await view(low)).chain.under.map(({ number }) => number)).toEqual([up]);
    value(await act("cy", low, approve(1)));
    value(await act("ada", low, merge(1)));
    await new EventHandlers(bench.app).step();
    const after = await state(up);
    expect(after).toMatchObject({ target: "main", state: "open" });
    // The work is the same, so what was said of it holds; it is ben’s still.
    expect(newest(after)).toMatchObject({
      number: 2,
      how: "retargeted",
      same: true,
      pusher: bench.people.get("ben")!.id,
    });
    expect((await gate(up)).open).toBe(true);
  });

  it("upwards: what is merged into an open source is its next revision, and outdates what was approved", async () => {
    const lower = await branch();
    const low = await offer("ada", lower);
    value(await act("cy", low, approve(1)));
    const upper = await branch(lower);
    const up = await offer("ben", upper, lower);
    value(await act("kit", up, approve(1)));
    value(await act("ben", up, merge(1)));
    expect(reason(await act("ada", low, merge(1)))).toMatch(/The branch has moved on/);
    await new EventHandlers(bench.app).step();
    expect(newest(await state(low))).toMatchObject({ number: 2, pusher: bench.people.get("ben")!.id });
    expect(await unmet(low)).toMatch(/of an earlier revision no longer counts/);
  });

  it("by hand: another target asks its own rules, and what was approved for one is not for the other", async () => {
    await bench.push("kit", "quay", "main", "refs/heads/harmless");
    const name = await branch();
    const number = await offer("ada", name, "harmless");
    value(await act("ben", number, approve(1)));
    expect((await gate(number)).open).toBe(true);
    expect(reason(await act("cy", number, { kind: "retarget", target: "main" }))).toMatch(
      /Only the author or a keeper/,
    );
    value(await act("ada", number, { kind: "retarget", target: "main" }));
    expect(await unmet(number)).toMatch(/0 of 1 approval of r2.*earlier revision no longer counts/);
    expect(reason(await act("ada", number, { kind: "retarget", target: "nowhere" }))).toMatch(/no branch/);
  });

  it("says before, not after, that a branch leads nowhere any more, and how to go on after a squash", async () => {
    await rules({ branches: "main", merging: ["squash"], approvals: { count: 0 } }, { branches: "**", direct: true });
    const lower = await branch();
    const low = await offer("ada", lower);
    value(await act("ada", low, { kind: "merge", revision: 1, message: "All of it", how: "squash" }));
    await new EventHandlers(bench.app).step();
    const upper = await branch(lower);
    const up = await offer("ben", upper, lower);
    expect((await view(up, "ben")).chain.notes[0]).toMatch(/was merged into main already.*reaches nothing/);
    await bench.git(work, "checkout", "--quiet", lower);
    await more();
    expect(await push("ada", lower)).toMatch(/git rebase --onto origin\/main [0-9a-f]{12} work-/);
    await rules({ branches: "main" }, { branches: "**", direct: true });
  });
});
