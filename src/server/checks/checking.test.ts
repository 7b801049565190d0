import { symlinkSync } from "node:fs";
import { join } from "node:path";
import * as v from "valibot";
import { afterAll, beforeAll, describe, expect, vi } from "vitest";
import { checkRequest } from "@/core/checks/request";
import { newest } from "@/core/review/state";
import { checksOf } from "@/core/rules/checks";
import { story } from "@/server/testing/story";
import { eventsOf } from "@/store/log";
import { setRole } from "../access/people";
import { setRule } from "../rules/rules";
import { Bench, reason, value } from "../testing/bench";
import { findingsOf, report, takeReport } from "./checking";
import { forgetLogs, logOf, logsOf, takeLog } from "./logs";
import { Runner } from "./runner";
import { RunningLog } from "./running-log";

const it = story();

let bench: Bench;
let work: string;
let head: string;
const who = (name: string) => bench.people.get(name)!;
const COMMANDS = {
  checks: [
    { name: "fine", run: "echo all is well" },
    { name: "wrong", run: "echo one thing is not; exit 3" },
    {
      name: "report",
      run: 'printf \'<testsuite name="s"><testcase name="a" file="a.txt" line="2"><failure message="no"/></testcase></testsuite>\' > out.xml',
      report: "out.xml",
    },
    { name: "slow", run: "sleep 30 & sleep 30", limit: 1 },
    { name: "curious", run: 'test -z "$LENS_DATA$SECRET" && ln -s /etc/passwd out.txt', report: "out.txt" },
  ],
};

beforeAll(async () => {
  vi.stubEnv("SECRET", "not for checks");
  bench = await Bench.set();
  work = await bench.repository("quay", {
    main: [{ "a.txt": "one\ntwo\n" }],
    topic: [{ "a.txt": "one\n2\n", ".lens/checks.json": JSON.stringify(COMMANDS) }],
    cover: [{ "a.txt": "one\n2\n" }],
    loud: [{ "a.txt": "one\nII\n" }],
    bad: [{ "b.txt": "b\n", ".lens/checks.json": "{" }],
  });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "contributor" });
  await bench.person("rea", { quay: "reader" });
  await bench.person("machine");
  await bench.app.db.updateTable("people").set({ machine: 1 }).where("name", "=", "machine").execute();
  value(await bench.open("ada", "quay", "topic"));
  head = (await bench.change("quay", 1)).change.revisions[0].head;
});
afterAll(() => {
  vi.unstubAllEnvs();
  return bench.clear();
});

const state = async (number = 1) =>
  Object.fromEntries(
    checksOf((await bench.change("quay", number)).change).map(({ name, state: its, summary }) => [
      name,
      `${its}: ${summary}`,
    ]),
  );

describe("checks", () => {
  it("are reported by those who may, on commits that are revisions, and hold the gate where the rule says so", async () => {
    const said = { name: "build", state: "failed" as const, summary: "2 errors", link: "" };
    expect(reason(await report(bench.app, who("rea"), "quay", head, said))).toMatch(
      /Only contributors, keepers and machine accounts/,
    );
    expect(reason(await report(bench.app, who("machine"), "quay", head, said))).toMatch(
      /no repository “quay” that you may see/,
    );
    value(await setRole(bench.app, "machine", "quay", "contributor"));
    expect(reason(await report(bench.app, who("machine"), "quay", "f".repeat(40), said))).toMatch(
      /No change set of quay has ffffffffffff as a revision/,
    );
    expect(reason(await report(bench.app, who("machine"), "quay", "HEAD", said))).toMatch(/named by its whole id/);
    value(await report(bench.app, who("machine"), "quay", head, said));
    value(await bench.do("ben", "quay", 1, { kind: "send-review", revision: 1, verdict: "approve", remark: "" }));
    value(await setRule(bench.app, "quay", "main", { checks: ["build"] }));
    const merge = { kind: "merge", revision: 1, message: "m" } as const;
    expect(reason(await bench.do("ada", "quay", 1, merge))).toMatch(/The check build failed on r1: 2 errors\./);
    value(await setRule(bench.app, "quay", "main", { checks: [] }));
  });

  it("bring reports in open formats, and refuse what is none", async () => {
    const sarif = (level: string) =>
      Buffer.from(
        JSON.stringify({
          version: "2.1.0",
          runs: [
            {
              tool: { driver: { name: "lint" } },
              results: [
                {
                  ruleId: "R",
                  level,
                  message: { text: "Hm" },
                  locations: [{ physicalLocation: { artifactLocation: { uri: "a.txt" }, region: { startLine: 2 } } }],
                },
              ],
            },
          ],
        }),
      );
    const { folder } = await bench.change("quay", 1);
    const take = (bytes: Buffer, name = "lint") =>
      takeReport(bench.app, who("machine"), "quay", head, name, folder, bytes);
    value(await take(sarif("error")));
    expect(await state()).toMatchObject({ lint: "failed: 1 finding" });
    value(await take(sarif("warning")));
    expect(await state()).toMatchObject({ lint: "passed: 1 finding" });
    const { change } = await bench.change("quay", 1);
    expect(await findingsOf(bench.app, change)).toMatchObject([
      { check: "lint", findings: [{ path: "a.txt", line: 2, level: "warning" }] },
    ]);
    expect(reason(await take(Buffer.from("hello")))).toMatch(/neither JUnit XML, SARIF/);
    expect(reason(await take(Buffer.alloc(50 * 1024 * 1024, "{")))).toMatch(/has 50 MB; at most 24 are taken/);
    expect(reason(await take(sarif("error"), " "))).toMatch(/needs a name/);
  });
});

describe("logs of checks", () => {
  const take = (by: string, text: string, commit = head, name = "build") =>
    takeLog(bench.app, who(by), "quay", commit, name, { text, part: 0.5 });

  it("are told by those who may report, and stand in the place of what was told before", async () => {
    expect(reason(await take("rea", "x"))).toMatch(/needs the role of contributor/);
    expect(reason(await take("machine", "x", "f".repeat(40)))).toMatch(/No change set of quay has/);
    expect(reason(await take("machine", "x", head, " "))).toMatch(/needs a name/);
    value(await take("machine", "step 1\n"));
    value(await take("machine", "step 1\n\u001b[31mstep 2\u001b[0m\n"));
    const { change } = await bench.change("quay", 1);
    expect(await logsOf(bench.app, change)).toMatchObject([{ name: "build", part: 0.5, last: "step 2" }]);
    expect(await logOf(bench.app, change, "build", who("machine").id)).toBe("step 1\nstep 2\n");
  });

  it("change nothing that counts, and are forgotten after a while", async () => {
    const { change } = await bench.change("quay", 1);
    value(await take("ada", "passed, believe me"));
    expect((await bench.change("quay", 1)).change.last).toBe(change.last);
    await forgetLogs(bench.app);
    expect(await logsOf(bench.app, change)).toHaveLength(2);
    const now = bench.app.now;
    bench.app.now = () => now() + 40 * 24 * 3_600_000;
    await forgetLogs(bench.app);
    bench.app.now = now;
    expect(await logsOf(bench.app, change)).toEqual([]);
  });

  it("are told while they are written: the newest now and then, and the last for certain", async () => {
    const told: string[] = [];
    const problems: unknown[] = [];
    const log = new RunningLog(
      async (text) => {
        told.push(text);
        if (text === "a") throw new Error("once");
      },
      (error) => problems.push(error),
    );
    for (const text of ["a", "ab", "abc"]) log.hear(text);
    await log.end();
    expect(told).toEqual(["a", "abc"]);
    expect(problems).toHaveLength(1);
  });
});

describe("the stand-in runner", () => {
  it("runs what the repository names, in time and without our environment, and reports it", async () => {
    const runner = new Runner(bench.app, "machine");
    await runner.step();
    expect(await state()).toMatchObject({
      fine: "passed: all is well",
      wrong: "failed: one thing is not",
      report: "failed: no tests passed, 1 failed",
      slow: "failed: ended after 1 s without an answer",
      // A link that leads out of the folder is no report.
      curious: "passed: ",
    });
    // What each wrote can be read, without what only means something to a terminal.
    const { change } = await bench.change("quay", 1);
    expect((await logsOf(bench.app, change)).map(({ name, last }) => [name, last])).toContainEqual([
      "wrong",
      "one thing is not",
    ]);
    expect(await logOf(bench.app, change, "wrong", who("machine").id)).toBe("one thing is not\n");
    expect(await logOf(bench.app, change, "wrong", who("ada").id)).toBe("");
    const events = async () => (await eventsOf(bench.app.db, (await bench.change("quay", 1)).change.id)).length;
    const before = await events();
    await runner.step();
    expect(await events()).toBe(before);
    // Asked for again it is run again, and that alone.
    expect(reason(await bench.do("rea", "quay", 1, { kind: "check-again", name: "wrong" }))).toMatch(/\w/);
    value(await bench.do("ben", "quay", 1, { kind: "check-again", name: "wrong" }));
    expect(await state()).toMatchObject({ wrong: "waiting: asked for again", fine: "passed: all is well" });
    await runner.step();
    expect(await state()).toMatchObject({ wrong: "failed: one thing is not" });
    // That it was asked, waits, runs, and what came of it.
    expect(await events()).toBe(before + 4);
    await runner.stop();
  });

  it("goes on after it died, runs each new revision, and says when it cannot be told what to run", async () => {
    value(
      await report(bench.app, who("machine"), "quay", head, { name: "fine", state: "running", summary: "", link: "" }),
    );
    const again = new Runner(bench.app, "machine");
    await again.step();
    expect(await state()).toMatchObject({ fine: "passed: all is well" });
    await bench.git(work, "checkout", "--quiet", "topic");
    await bench.commit(work, "less", { ".lens/checks.json": JSON.stringify({ checks: [COMMANDS.checks[0]] }) });
    const { folder } = await bench.change("quay", 1);
    await bench.git(folder, "fetch", "--quiet", work, "+refs/heads/*:refs/heads/*");
    value(await bench.do("ada", "quay", 1, { kind: "revise" }));
    expect(await state()).toEqual({});
    value(await bench.open("ada", "quay", "bad"));
    await again.step();
    expect(await state()).toEqual({ fine: "passed: all is well" });
    expect(await state(2)).toEqual({ checks: "failed: .lens/checks.json is not JSON." });
    await again.stop();
  });
});

describe("a check whose command an author changes", () => {
  it("is told as one, wherever the author began", async () => {
    const commands = (run: string) =>
      JSON.stringify({
        checks: [
          { name: "tests", run },
          { name: "words", run: "echo spelled" },
        ],
      });
    const pier = await bench.repository("pier", {
      main: [{ "a.txt": "a\n" }, { ".lens/checks.json": commands("echo real tests") }],
      // Two that the target does not have, of which the rule asks for one: a machine elsewhere makes it.
      more: [
        {
          ".lens/checks.json": JSON.stringify({
            checks: [
              { name: "build", run: "true" },
              { name: "links", run: "true" },
            ],
          }),
        },
      ],
      now: [{ ".lens/checks.json": commands("true") }],
    });
    // From a commit in which there was no such check yet.
    await bench.git(pier, "checkout", "--quiet", "-B", "old", "main~1");
    await bench.commit(pier, "old", { ".lens/checks.json": commands("echo ten passed") });
    await bench.takeIn("pier", pier);
    for (const name of ["ada", "machine"]) value(await setRole(bench.app, name, "pier", "contributor"));
    value(await setRule(bench.app, "pier", "main", { checks: ["build"] }));
    for (const branch of ["now", "old", "more"]) value(await bench.open("ada", "pier", branch));
    const runner = new Runner(bench.app, "machine");
    await runner.step();
    await runner.stop();
    const said = async (number: number) =>
      checksOf((await bench.change("pier", number)).change).map(({ name, summary }) => [name, summary]);
    expect(await said(1)).toEqual([
      ["tests", "by a command that this change set changes"],
      ["words", "spelled"],
    ]);
    expect(await said(2)).toContainEqual(["tests", "ten passed, by a command that this change set changes"]);
    expect(await said(2)).toContainEqual(["words", "spelled"]);
    expect(await said(3)).toEqual([
      ["build", "by a command that this change set changes"],
      ["links", ""],
    ]);
  });
});

describe("a check whose command runs what an author changes", () => {
  it("names the file, also where a script runs it; and nothing else that changes", async () => {
    const checks = [
      { name: "tests", run: "sh scripts/check.sh" },
      { name: "lint", run: "cd web && sh ../tools/lint" },
      { name: "words", run: "echo spelled" },
    ];
    const files = {
      ".lens/checks.json": JSON.stringify({ checks }),
      "scripts/check.sh": 'cd "$(dirname "$0")"\nsh ./inner.sh\n',
      "scripts/inner.sh": "echo really tested\n",
      "tools/lint": "echo clean\n",
      "web/a.js": "a\n",
    };
    const mole = await bench.repository("mole", {
      main: [files],
      inner: [{ "scripts/inner.sh": "echo ten passed\n" }],
      lint: [{ "tools/lint": "true\n", "web/a.js": "b\n" }],
      other: [{ "web/a.js": "b\n" }],
    });
    // The folder that it lies in leads elsewhere.
    await bench.git(mole, "checkout", "--quiet", "-B", "link", "main");
    await bench.git(mole, "rm", "--quiet", "-r", "tools");
    symlinkSync("elsewhere", join(mole, "tools"));
    await bench.commit(mole, "link", { "elsewhere/lint": "true\n" });
    await bench.takeIn("mole", mole);
    for (const name of ["ada", "machine"]) value(await setRole(bench.app, name, "mole", "contributor"));
    for (const branch of ["inner", "lint", "other", "link"]) value(await bench.open("ada", "mole", branch));
    const runner = new Runner(bench.app, "machine");
    await runner.step();
    await runner.stop();
    const said = async (number: number) =>
      checksOf((await bench.change("mole", number)).change).map(({ name, summary }) => [name, summary]);
    const [tests, lint, words] = [
      ["tests", "really tested"],
      ["lint", "clean"],
      ["words", "spelled"],
    ];
    const inner = ["tests", "ten passed, by scripts/inner.sh, which is not as on main"];
    expect(await said(1)).toEqual([inner, lint, words]);
    expect(await said(2)).toEqual([tests, ["lint", "by tools/lint, which is not as on main"], words]);
    expect(await said(3)).toEqual([tests, lint, words]);
    expect((await said(4))[1][1]).toMatch(/by tools(\/lint)?, which is not as on main$/);
  });
});

describe("reports that find more than can be told", () => {
  it("are told in part, and all of them counted", async () => {
    const { number, revisions } = value(await bench.open("ada", "quay", "loud"));
    const { folder } = await bench.change("quay", number);
    const machine = await bench.person("shouting", { quay: "contributor" }, { machine: true });
    const lines = Array.from({ length: 1_000 }, (_, n) => `a.txt:${n + 1}: ${"x".repeat(1_900)}\n`);
    for (let n = 0; n < 10; n++) {
      const bytes = Buffer.from(lines.join(""));
      value(await takeReport(bench.app, machine, "quay", revisions[0].head, `loud ${n}`, folder, bytes));
    }
    const found = await findingsOf(bench.app, (await bench.change("quay", number)).change);
    expect(found).toHaveLength(10);
    for (const { findings, more } of found) expect(findings.length + more).toBe(1_000);
    expect(found.filter(({ findings }) => findings.length > 400)).toHaveLength(8);
    expect(JSON.stringify(found).length).toBeLessThan(8_100_000);
  });
});

describe("a report that is refused", () => {
  it("leaves no row behind, and one that comes again takes the place of the one before", async () => {
    const { change, folder } = await bench.change("quay", 1);
    const { head } = newest(change);
    const machine = await bench.person("loud", { quay: "contributor" }, { machine: true });
    const rows = () => bench.app.db.selectFrom("reports").select("id").where("change_set", "=", change.id).execute();
    const junit = Buffer.from('<testsuite name="s"><testcase name="t"/></testsuite>');
    const take = (name: string) => takeReport(bench.app, machine, "quay", head, name, folder, junit);
    value(await take("again"));
    const many = (await rows()).length;
    value(await take("again"));
    expect((await rows()).length).toBe(many);
    for (let i = 0; i < 110; i++)
      await report(bench.app, machine, "quay", head, { name: `n${i}`, state: "passed", summary: "", link: "" });
    const before = (await rows()).length;
    expect(reason(await take("one too many"))).toMatch(/can report 100 checks of a commit/);
    expect((await rows()).length).toBe(before);
    expect(checkRequestOf({ name: "a\x1b[2J", state: "passed" })).toBe(false);
  });
});

const checkRequestOf = (given: object) => v.safeParse(checkRequest, given).success;

describe("lines that tests ran", () => {
  it("are told of those that the change set brings, and fail it where fewer were run than asked for", async () => {
    const { number, revisions } = value(await bench.open("ada", "quay", "cover"));
    const { folder } = await bench.change("quay", number);
    const take = (text: string, least?: number) => {
      const bytes = new TextEncoder().encode(text);
      return takeReport(bench.app, who("machine"), "quay", revisions[0].head, "cover", folder, bytes, { least });
    };
    value(await take("SF:/build/1/a.txt\nDA:1,0\nDA:2,0\n"));
    const { change } = await bench.change("quay", number);
    expect((await state(number)).cover).toBe("passed: 1 of 1 changed line is run by no test");
    const found = (await findingsOf(bench.app, change)).find(({ check }) => check === "cover")!;
    // Line 1 is as it was: nobody is told of that.
    expect(found.findings).toEqual([
      expect.objectContaining({ path: "a.txt", line: 2, endLine: 2, level: "note", tool: "coverage" }),
    ]);
    value(await take("SF:a.txt\nDA:2,0\n", 50));
    expect((await state(number)).cover).toBe("failed: 1 of 1 changed line is run by no test");
    value(await take("SF:a.txt\nDA:2,7\n", 50));
    expect((await state(number)).cover).toBe("passed: the changed line is run by tests");
  });
});
