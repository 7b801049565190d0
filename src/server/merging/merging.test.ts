import { afterAll, beforeAll, describe, expect } from "vitest";
import type { Rule } from "@/core/rules/rule";
import { story } from "@/server/testing/story";
import { eventsOf } from "@/store/log";
import { openChange } from "../changes/revisions/opening";
import { takeBack } from "../changes/revisions/reverting";
import { tryRules } from "../rules/rule-trial";
import { editionsOf, rulesOf, saveRules, setRule } from "../rules/rules";
import { Bench, reason, value } from "../testing/bench";
import { trackerOf } from "../work/tracker-of";
import { EventHandlers } from "./event-handlers";
import { previewMerge } from "./merge-preview";

const it = story();

let bench: Bench;
const who = (name: string) => bench.people.get(name)!;
const LINES = Array.from({ length: 20 }, (_, i) => `line ${i + 1}`);
const text = (lines: string[]) => `${lines.join("\n")}\n`;

beforeAll(async () => {
  bench = await Bench.set();
  const long = Array.from({ length: 50_001 }, (_, n) => `${n}`);
  const few = Array.from({ length: 300 }, (_, n) => `line ${n}`);
  const every = (word: string) => few.map((line, n) => (n % 2 ? line : word));
  const branches: Record<string, Record<string, string | null>[]> = {
    main: [{ "a.txt": text(LINES), "b.txt": "b\n", "long.txt": text(long), "many.txt": text(few) }],
  };
  for (let i = 1; i <= 12; i++) branches[`topic-${i}`] = [{ [`t${i}.txt`]: "1\n" }, { [`t${i}.txt`]: "1\n2\n" }];
  branches.clash = [{ "a.txt": text(LINES.with(9, "line ten of the clash")) }];
  branches.other = [{ "a.txt": text(LINES.with(9, "line ten of the other")) }];
  branches["many-old"] = [{ "long.txt": text(long.with(7, "old")), "many.txt": text(every("old")) }];
  const wide = `${"x".repeat(2_000)}\n`.repeat(250).trimEnd();
  branches.many = [{ "long.txt": text(long.with(7, "new")), "many.txt": text(every("new").with(0, wide)) }];
  const work = await bench.repository("quay", branches);
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "contributor" });
  await bench.person("kit", { quay: "keeper" });
  await rule({ approvals: { count: 1 }, merging: ["merge", "squash", "rebase", "forward"] });
});
afterAll(() => bench.clear());

const rule = async (said: Partial<{ [K in keyof Rule]: unknown }>) =>
  value(await setRule(bench.app, "quay", "main", said));
const main = async () => {
  const { folder } = await bench.change("quay", 1);
  return bench.git(folder, "rev-parse", "main");
};
const log = async (...args: string[]) => bench.git((await bench.change("quay", 1)).folder, "log", ...args);
const approve = (by: string, number: number) =>
  bench.do(by, "quay", number, { kind: "send-review", revision: 1, verdict: "approve", remark: "" });
const merge = (by: string, number: number, how: Rule["merging"][number], message = "Bring it in") =>
  bench.do(by, "quay", number, { kind: "merge", revision: 1, message, how });
const preview = async (number: number, how: Rule["merging"][number]) => {
  const { change, folder } = await bench.change("quay", number);
  return value(await previewMerge(bench.app, who("kit"), change, folder, { how }));
};

describe("ways of merging", () => {
  it.first(async () => {
    for (let i = 1; i <= 5; i++) value(await bench.open("ada", "quay", `topic-${i}`));
    for (let i = 1; i <= 5; i++) value(await approve("ben", i));
  });

  it("move the target forward where that can be, and write nothing", async () => {
    const { commits, message, why } = await preview(1, "forward");
    expect([commits.length, message, why]).toEqual([2, "", null]);
    const { change } = await bench.change("quay", 1);
    value(await merge("kit", 1, "forward", ""));
    expect(await main()).toBe(change.revisions[0].head);
    expect((await preview(2, "forward")).why).toMatch(
      /main cannot be moved forward to r1: it has commits that r1 has not/,
    );
    expect(reason(await merge("kit", 2, "forward"))).toMatch(/cannot be moved forward/);
  });

  it("put the commits on top of the target one by one, each by its own author", async () => {
    const before = await main();
    value(await merge("kit", 2, "rebase", ""));
    expect(await log("--format=%an %cn %s", `${before}..main`)).toBe(
      "T kit Example topic-2 2\nT kit Example topic-2 1",
    );
    expect(await log("--merges", "--oneline", `${before}..main`)).toBe("");
  });

  it("make one commit of all, with who reviewed and who wrote it", async () => {
    const before = await main();
    const { message, commits } = await preview(3, "squash");
    expect(message).toBe("Take topic-3\n\nBecause.\n\nChange-Set: 3\nReviewed-by: ben Example <ben@x.example>\n");
    expect(commits).toMatchObject([{ made: true }]);
    value(await merge("kit", 3, "squash", message));
    expect(await log("--format=%P", "-1", "main")).toBe(before);
    // It is the author’s work; who merged it is the committer.
    expect(await log("--format=%an <%ae> %cn <%ce>", "-1", "main")).toBe("T <t@x> kit Example <kit@x.example>");
    expect(await log("--format=%(trailers:key=Reviewed-by,valueonly)", "-1", "main")).toContain("ben Example");
    expect(await bench.git((await bench.change("quay", 1)).folder, "show", "main:t3.txt")).toBe("1\n2");
  });

  it("are those that the rule allows; past the gate only for keepers, where it says so, with a reason on the record", async () => {
    await rule({ merging: ["merge"], linear: false, checks: ["build"] });
    expect(reason(await merge("kit", 4, "squash"))).toMatch(
      /main is not merged into by one commit of all, but by a merge commit/,
    );
    expect(reason(await merge("kit", 4, "merge"))).toMatch(/The check build has not reported/);
    const pass = (by: string, passing: string) =>
      bench.do(by, "quay", 4, { kind: "merge", revision: 1, message: "m", how: "merge", passing });
    expect(reason(await pass("kit", "It burns"))).toMatch(/lets nobody pass the gate/);
    await rule({ passing: true });
    expect(reason(await pass("ada", "It burns"))).toMatch(/Only a keeper can pass the gate/);
    expect(reason(await pass("kit", " "))).toMatch(/Say why the gate is passed/);
    const merged = value(await pass("kit", "The harbour floods."));
    expect(merged.settled).toMatchObject({ passing: "The harbour floods." });
    const [event] = (await eventsOf(bench.app.db, merged.id)).slice(-1);
    expect(event).toMatchObject({ kind: "merged", data: { kind: "merge", passing: "The harbour floods." } });
    await rule({ checks: [], passing: false, merging: ["merge", "squash", "rebase", "forward"] });
  });

  it("show conflicts by file and place beforehand, both sides against what they had in common", async () => {
    value(await bench.open("ada", "quay", "clash"));
    value(await bench.open("ada", "quay", "other"));
    value(await approve("ben", 6));
    value(await approve("ben", 7));
    value(await merge("kit", 6, "merge"));
    const { conflicts, why, commits } = await preview(7, "merge");
    expect(conflicts).toEqual([
      {
        path: "a.txt",
        why: null,
        places: [{ line: 10, base: ["line 10"], target: ["line ten of the clash"], source: ["line ten of the other"] }],
      },
    ]);
    expect([commits, why]).toEqual([[], expect.stringMatching(/r1 conflicts with main in 1 file: a\.txt/)]);
    expect((await preview(7, "rebase")).why).toMatch(/The commit “other 1” conflicts with main/);
  });
});

describe("after merging", () => {
  it("ends the work items that it closes, and deletes the branch where the rule says so; once, whatever happens", async () => {
    await rule({ deleteSource: true });
    const eventHandlers = new EventHandlers(bench.app);
    await eventHandlers.step();
    const { change, folder } = await bench.change("quay", 5);
    const tracker = trackerOf(bench.app, { id: change.repository, name: "quay" });
    const [first, second] = [
      value(await tracker.add(who("ada"), { title: "A gate is stuck", body: "" })),
      value(await tracker.add(who("ada"), { title: "Paint", body: "" })),
    ];
    const strange = await tracker.add(who("ada"), { title: "x", body: "", assignee: "nobody" });
    expect(reason(strange)).toMatch(/someone who sees this repository/);
    expect(reason(await tracker.add(who("ada"), { title: " ", body: "" }))).toMatch(/needs a title/);
    value(await bench.do("ada", "quay", 5, { kind: "link", item: first, closes: true }));
    value(await bench.do("ada", "quay", 5, { kind: "link", item: second, closes: false }));
    expect(reason(await bench.do("ben", "quay", 5, { kind: "link", item: second, closes: true }))).toMatch(
      /Only the author/,
    );
    value(await merge("kit", 5, "merge"));
    await eventHandlers.step();
    await eventHandlers.step();
    expect(
      value(await tracker.named([first, second])).map(({ item, state, closedBy }) => [item, state, closedBy]),
    ).toEqual([
      [first, "done", 5],
      [second, "open", null],
    ]);
    expect(value(await tracker.find("gate")).map(({ item }) => item)).toEqual([first]);
    expect(value(await tracker.find("100%")).length).toBe(0);
    expect(
      await bench.git(folder, "for-each-ref", "--format=%(refname)", "refs/heads/topic-5", "refs/heads/topic-4"),
    ).toBe("refs/heads/topic-4");
    await rule({ deleteSource: false });
  });

  it("can be taken back by a new change set", async () => {
    const { change, folder } = await bench.change("quay", 3);
    const back = value(await takeBack(bench.app, who("ada"), "contributor", "quay", change, folder));
    expect(back).toMatchObject({ title: "Take back change set 3: Take topic-3", source: "take-back-3", state: "open" });
    expect(await bench.git(folder, "diff", "--name-status", "main", "take-back-3")).toBe("D\tt3.txt");
    const { change: open } = await bench.change("quay", 7);
    expect(reason(await takeBack(bench.app, who("ada"), "contributor", "quay", open, folder))).toMatch(
      /Only what was merged/,
    );
    value(await bench.do("ada", "quay", back.number, { kind: "withdraw" }));
  });
});

describe("merging when the gate opens", () => {
  it("happens by itself, or says why not", async () => {
    const eventHandlers = new EventHandlers(bench.app);
    const opened = value(await bench.open("ada", "quay", "topic-6"));
    const ask = (by: string, number: number) =>
      bench.do(by, "quay", number, { kind: "merge-when-open", revision: 1, how: "merge", message: null });
    expect(reason(await ask("ben", opened.number))).toMatch(/Only a keeper of this repository or the author/);
    value(await ask("ada", opened.number));
    await eventHandlers.step();
    expect((await bench.change("quay", opened.number)).change.state).toBe("open");
    value(await approve("ben", opened.number));
    await eventHandlers.step();
    expect((await bench.change("quay", opened.number)).change).toMatchObject({
      state: "merged",
      mergeAsked: null,
      settled: { by: who("ada").id },
    });
    expect(await log("--format=%s", "-1", "main")).toBe("Merge topic-6 into main: Take topic-6");

    // What is shown is what was meant, or nothing: a revision that came since is not shown under the name of the one before.
    const { change: now, folder } = await bench.change("quay", 7);
    const other = await previewMerge(bench.app, who("kit"), now, folder, { how: "merge", revision: 2 });
    expect(reason(other)).toBe("There is no r2: the newest is r1.");

    // What conflicts keeps the gate shut, and is asked for until it does not.
    value(await ask("ada", 7));
    value(await approve("ben", 7));
    await eventHandlers.step();
    const { change: waiting } = await bench.change("quay", 7);
    expect(waiting).toMatchObject({ state: "open", mergeAsked: { kind: "merge" } });
    expect(reason(await merge("kit", 7, "merge"))).toMatch(/It conflicts with main in 1 file: a\.txt\./);

    // What cannot be done although the gate is open is said once.
    value(await bench.do("ada", "quay", 8, { kind: "open-again" }));
    value(await bench.do("ada", "quay", 8, { kind: "merge-when-open", revision: 1, how: "forward", message: null }));
    value(await approve("ben", 8));
    await eventHandlers.step();
    const { change } = await bench.change("quay", 8);
    expect(change).toMatchObject({
      state: "open",
      mergeAsked: null,
      mergeFailed: { why: expect.stringMatching(/main cannot be moved forward to r1/) },
    });
    value(await bench.do("ada", "quay", 8, { kind: "withdraw" }));
  });
});

describe("many merges at once", () => {
  it("each happen once or are refused with the reason; the log and the refs agree", async () => {
    const numbers: number[] = [];
    for (let i = 7; i <= 12; i++) numbers.push(value(await bench.open("ada", "quay", `topic-${i}`)).number);
    for (const number of numbers) value(await approve("ben", number));
    const asked = numbers.flatMap((number) => Array.from({ length: 4 }, () => number));
    const before = await main();
    const outcomes = await Promise.all(asked.map((number) => merge("kit", number, "merge")));
    for (const outcome of outcomes)
      if (!outcome.ok)
        expect(outcome.refusal.reason).toMatch(
          /moved while you merged|merging this change set just now|merged already|is in main already/,
        );
    // Whoever was refused because the target moved tries again.
    for (const number of numbers)
      while ((await bench.change("quay", number)).change.state === "open") value(await merge("kit", number, "merge"));
    const { folder } = await bench.change("quay", 1);
    const merged = (await bench.git(folder, "log", "--first-parent", "--format=%H", `${before}..main`)).split("\n");
    const told = await Promise.all(
      numbers.map(async (number) => (await bench.change("quay", number)).change.settled?.commit),
    );
    expect([...merged].sort()).toEqual([...told].sort());
    expect(await bench.git(folder, "fsck", "--no-dangling")).toBe("");
  });
});

describe("the rules of a repository", () => {
  const main1 = { branches: "main", approvals: { count: 1 } };
  it("are saved by keepers with a history, and two who edit at once do not undo each other", async () => {
    const { change } = await bench.change("quay", 1);
    const version = (await editionsOf(bench.app.db, change.repository))[0].version;
    const save = (by: string, rules: object[], at: number | null = version) =>
      saveRules(bench.app, who(by), "quay", { rules }, "Fewer words", at);
    expect(reason(await save("ada", [main1]))).toMatch(/needs the role of keeper/);
    expect(reason(await save("kit", [{ branches: "main", approvals: { count: -1 } }]))).toMatch(
      /rules\.0\.approvals\.count/,
    );
    expect(reason(await save("kit", [main1, main1]))).toMatch(/two rules for main/);
    value(await save("kit", [main1, { branches: "**", direct: true }]));
    expect(reason(await save("kit", [main1]))).toMatch(/Someone else has changed the rules meanwhile/);
    const [edition] = await editionsOf(bench.app.db, change.repository);
    expect(edition).toMatchObject({ version: version + 1, by: who("kit").id, note: "Fewer words" });
    expect(await rulesOf(bench.app.db, change.repository)).toEqual(edition.rules);
  });

  it("can be tried on the change sets that are there before they count", async () => {
    const strict = {
      rules: [{ branches: "main", approvals: { count: 2 }, title: "plan: *" }, { branches: "release/*" }],
    };
    const trial = value(await tryRules(bench.app, who("kit"), "quay", strict));
    expect(trial.notes).toContain("release/* fits no branch that is there now.");
    const merged = trial.tried.find(({ number }) => number === 6);
    expect(merged).toMatchObject({
      rule: "main",
      open: false,
      blocked: ["1 of 2 approvals of r1.", "The title has to read like “plan: *”."],
      newly: ["1 of 2 approvals of r1.", "The title has to read like “plan: *”."],
    });
    expect(trial.tried.some(({ open }) => open)).toBe(true);
    const person = who("ada");
    const draft = { source: "take-back-3", target: "clash", title: "x", description: "", draft: true };
    value(await openChange(bench.app, person, "quay", draft));
    const into = value(await tryRules(bench.app, who("kit"), "quay", strict)).tried.find(
      ({ target }) => target === "clash",
    );
    // A draft is held up with or without them.
    expect(into).toMatchObject({ rule: null, blocked: ["It is a draft."], newly: [] });
    // Who asks for fewer approvals than now holds nothing up that goes through.
    value(await setRule(bench.app, "quay", "main", { approvals: { count: 3 } }));
    const fewer = value(
      await tryRules(bench.app, who("kit"), "quay", { rules: [{ ...strict.rules[0], title: null }] }),
    );
    expect(fewer.tried.find(({ number }) => number === 6)).toMatchObject({
      ...{ blocked: ["1 of 2 approvals of r1."], newly: [] },
    });
  });
});

describe("a preview of very many conflicts", () => {
  it("shows no more than somebody can look at, and say how many there are", async () => {
    const { number } = value(await bench.open("ada", "quay", "many", "many-old"));
    const { conflicts } = await preview(number, "merge");
    expect(conflicts.map(({ path, places, why }) => [path, places.length, why])).toEqual([
      ["long.txt", 0, "It is too long for its places to be looked for here."],
      ["many.txt", 100, "150 places, of which the first 100 are shown"],
    ]);
    const [first] = conflicts[1].places;
    expect(first.source).toEqual([
      ...Array.from({ length: 200 }, () => `${"x".repeat(1_000)}…`),
      "… and 50 more lines",
    ]);
  });
});
