import { describe, expect, it } from "vitest";
import type { ReviewEvent } from "../review/events";
import { replay } from "../review/evolve";
import type { ChangeSet } from "../review/state";
import { type GateFacts, NO_FACTS } from "./facts";
import { evaluateGate } from "./gate";
import { makeRule, type Rule } from "./rule";

const approvals = makeRule("main").approvals;
const person = (id: string, role: "reader" | "contributor" | "keeper" = "contributor") => ({
  id,
  name: id,
  role,
  machine: false,
  owner: null,
});
const facts: GateFacts = {
  ...NO_FACTS,
  now: Date.UTC(2026, 11, 24),
  people: [
    ...[person("ada"), person("ben"), person("cy", "keeper"), person("dee"), person("rea", "reader")],
    { ...person("gauge"), machine: true },
  ],
  paths: ["plan/board.ts", "data/quays.ts"],
  commits: [{ id: "c".repeat(40), subject: "plan: hold a berth", merge: false, signedOff: true }],
};

/** A change set of ada with what is said about it; each entry is one event. */
function changeWith(...said: [by: string, kind: string, data: object][]): ChangeSet {
  const revision = (n: number) => ({ head: `${n}`.padStart(40, "a"), target: "t".repeat(40), base: "b".repeat(40) });
  const opened = {
    repository: "r",
    number: 1,
    title: "plan: hold",
    description: "",
    source: "s",
    target: "main",
    revision: revision(1),
  };
  const events = [["ada", "opened", opened] as const, ...said].map(([by, kind, data], i) => ({
    ...{ id: `e${i}`, stream: "c", version: 1, by, at: i, kind, data },
  }));
  return replay(events as ReviewEvent[])!;
}
const verdict = (by: string, verdict: string, revision = 1): [string, string, object] => [
  by,
  "reviewed",
  { revision, verdict, remark: "", remarks: [] },
];
const pushed = (n: number, by = "ada", more = {}): [string, string, object] => [
  by,
  "revised",
  { revision: { head: `${n}`.padStart(40, "a"), target: "t", base: "b" }, ...more },
];
const check = (name: string, state: string, n = 1): [string, string, object] => [
  "gauge",
  "checked",
  { commit: `${n}`.padStart(40, "a"), name, state, summary: "", link: "", report: null },
];

/** The unmet conditions of a gate. */
const unmet = (change: ChangeSet, rule: Rule, more: Partial<GateFacts> = {}) =>
  evaluateGate(change, rule, { ...facts, ...more }).conditions.filter(({ met }) => !met);
const says = (change: ChangeSet, rule: Rule, more: Partial<GateFacts> = {}) =>
  unmet(change, rule, more).map((one) => one.says);
const bare = (said: Partial<Rule>) => makeRule("main", { approvals: { ...approvals, count: 0 }, ...said });

describe("approvals", () => {
  const ask = (said: Partial<Rule["approvals"]>) => makeRule("main", { approvals: { ...approvals, ...said } });
  const asked: [string, string, object] = [
    "ada",
    "asked",
    { invited: [{ person: "ben" }, { person: "cy" }, { person: "dee" }] },
  ];
  it.each<[string, ChangeSet, Rule, boolean]>([
    ["one of someone else", changeWith(verdict("ben", "approve")), ask({}), true],
    ["the author's own does not count", changeWith(verdict("ada", "approve")), ask({}), false],
    ["the author's own, where it counts", changeWith(verdict("ada", "approve")), ask({ author: true }), true],
    ["two of two", changeWith(verdict("ben", "approve"), verdict("cy", "approve")), ask({ count: 2 }), true],
    [
      "one person twice is one",
      changeWith(verdict("ben", "approve"), verdict("ben", "approve")),
      ask({ count: 2 }),
      false,
    ],
    ["outdated by new work", changeWith(verdict("ben", "approve"), pushed(2)), ask({}), false],
    ["kept where the rule keeps", changeWith(verdict("ben", "approve"), pushed(2)), ask({ keep: true }), true],
    [
      "kept over a rebase alone",
      changeWith(verdict("ben", "approve"), pushed(2, "ada", { same: true })),
      ask({}),
      true,
    ],
    [
      "of who pushed last",
      changeWith(pushed(2, "ben"), verdict("ben", "approve", 2)),
      ask({ lastPusher: false }),
      false,
    ],
    [
      "of who pushed it before another rebased it",
      changeWith(pushed(2, "ben"), pushed(3, "ada", { same: true }), verdict("ben", "approve", 3)),
      ask({ lastPusher: false }),
      false,
    ],
    [
      "of another than who pushed last",
      changeWith(pushed(2, "ben"), verdict("cy", "approve", 2)),
      ask({ lastPusher: false }),
      true,
    ],
    ["by a named person", changeWith(verdict("ben", "approve")), ask({ from: ["cy"] }), false],
    ["by a role", changeWith(verdict("cy", "approve")), ask({ from: ["keeper"] }), true],
    [
      "two thirds of those asked",
      changeWith(asked, verdict("ben", "approve"), verdict("cy", "approve")),
      ask({ count: 0, share: 66 }),
      true,
    ],
    [
      "all of those asked",
      changeWith(asked, verdict("ben", "approve"), verdict("cy", "approve")),
      ask({ count: 0, share: 100 }),
      false,
    ],
    ["all of nobody", changeWith(verdict("ben", "approve")), ask({ count: 0, share: 100 }), false],
    ["one, and half of nobody", changeWith(verdict("ben", "approve")), ask({ count: 1, share: 50 }), false],
    [
      "half of those asked, by one who was not",
      changeWith(["ada", "asked", { invited: [{ person: "cy" }] }], verdict("dee", "approve")),
      ask({ count: 1, share: 50 }),
      false,
    ],
    [
      "taken back by asking for changes",
      changeWith(verdict("ben", "approve"), verdict("ben", "request-changes")),
      ask({}),
      false,
    ],
  ])("%s", (_, change, rule, met) => {
    expect(evaluateGate(change, rule, facts).conditions.find(({ key }) => key === "approvals")?.met).toBe(met);
  });

  it("say who can still give them, and that nobody was asked", () => {
    const [one] = unmet(changeWith(verdict("ben", "approve")), ask({ count: 2, lastPusher: false }));
    expect(one).toMatchObject({ says: "1 of 2 approvals of r1.", people: ["ben"], canMeet: ["cy", "dee"] });
    expect(says(changeWith(), ask({ count: 0, share: 100 }))[0]).toMatch(/^Nobody is asked to review it by name/);
    expect(unmet(changeWith(), ask({ count: 9 }))[0].who).toMatch(/Too few people may approve here/);
  });
});

describe("stewards", () => {
  const of = (...stewards: Rule["stewards"]) => bare({ stewards });
  it("are one condition for each pattern that is touched, met by their approval of the newest work", () => {
    const rule = of(
      { paths: "data/**", of: ["dee"], needed: 1 },
      { paths: "**/*.ts", of: ["ben", "cy"], needed: 2 },
      { paths: "docs/**", of: ["ben"], needed: 1 },
    );
    expect(says(changeWith(verdict("ben", "approve")), rule)).toEqual([
      "A steward of data/** must agree: data/quays.ts.",
      "2 stewards of **/*.ts must agree: 2 files under **/*.ts.",
    ]);
    const all = [verdict("dee", "approve"), verdict("ben", "approve"), verdict("cy", "approve")];
    expect(says(changeWith(...all), rule)).toEqual([]);
    expect(unmet(changeWith(...all, pushed(2)), rule).length).toBe(2);
  });

  it("are asked also about what machines take for a file of theirs", () => {
    const rule = of({ paths: "locks/**", of: ["dee"], needed: 1 });
    const asked = (path: string) => unmet(changeWith(), rule, { paths: [path] }).map((one) => one.says);
    expect(asked("Locks/key.ts")).toEqual(["A steward of locks/** must agree: Locks/key.ts."]);
    for (const path of ["LOC\u212aS/a", "lock\u017f/a", "lo\u200ccks/a"]) expect(asked(path), path).toHaveLength(1);
    expect(asked("lo\u200ccks/a")).toEqual(["A steward of locks/** must agree: lo⟨U+200C⟩cks/a."]);
    for (const path of ["lock/a", "clocks/a", "l\u043ecks/a"]) expect(asked(path), path).toEqual([]);
    // Written with capitals in the rule, it is about the same.
    expect(
      unmet(changeWith(), of({ paths: "Docs/*.MD", of: ["dee"], needed: 1 }), { paths: ["docs/a.md"] }),
    ).toHaveLength(1);
  });

  it("who left are named, and when none is left it says who can help", () => {
    const [one] = unmet(changeWith(), of({ paths: "data/**", of: ["gone", "ada"], needed: 1 }));
    expect(one.says).toMatch(/gone cannot approve here any more/);
    expect(one.who).toMatch(/Nobody who is left can: a keeper has to name other stewards/);
  });
});

describe("the other conditions", () => {
  it.each<[string, ChangeSet, Partial<Rule>, Partial<GateFacts>, string[]]>([
    ["a request that stands", changeWith(verdict("ben", "request-changes")), {}, {}, ["requests"]],
    [
      "a request that was lifted",
      changeWith(verdict("ben", "request-changes"), ["cy", "lifted", { person: "ben", reason: "away" }]),
      {},
      {},
      [],
    ],
    [
      "a request made again after",
      changeWith(
        verdict("ben", "request-changes"),
        ["cy", "lifted", { person: "ben", reason: "away" }],
        verdict("ben", "request-changes"),
      ),
      {},
      {},
      ["requests"],
    ],
    ["requests that do not matter", changeWith(verdict("ben", "request-changes")), { requests: false }, {}, []],
    ["a check that passed", changeWith(check("build", "passed")), { checks: ["build"] }, {}, []],
    ["one that failed", changeWith(check("build", "failed")), { checks: ["build"] }, {}, ["check"]],
    ["one that is running", changeWith(check("build", "running")), { checks: ["build"] }, {}, ["check"]],
    ["one that was skipped", changeWith(check("build", "skipped")), { checks: ["build"] }, {}, ["check"]],
    [
      "one that passed on what came before",
      changeWith(check("build", "passed"), pushed(2)),
      { checks: ["build"] },
      {},
      ["check"],
    ],
    [
      "one that was run again",
      changeWith(check("build", "failed"), check("build", "passed")),
      { checks: ["build"] },
      {},
      [],
    ],
    ["one that only informs", changeWith(check("style", "failed")), { checks: [] }, {}, []],
    ["no work item", changeWith(), { workItem: true }, {}, ["work-item"]],
    ["a work item", changeWith(), { workItem: true }, { workItems: ["101"] }, []],
    ["a title as it should be", changeWith(), { title: "plan: *" }, {}, []],
    ["another title", changeWith(), { title: "tide: *" }, {}, ["title"]],
    ["commit messages", changeWith(), { commits: "tide: *" }, {}, ["commits"]],
    ["signed off", changeWith(), { signedOff: true }, {}, []],
    [
      "not signed off",
      changeWith(),
      { signedOff: true },
      { commits: [{ ...facts.commits[0], signedOff: false }] },
      ["signed-off"],
    ],
    [
      "a merge commit",
      changeWith(),
      { linear: true, merging: ["squash"] },
      { commits: [{ ...facts.commits[0], merge: true }] },
      ["linear"],
    ],
    ["behind the target", changeWith(), { upToDate: true }, { behind: 2 }, ["up-to-date"]],
    ["too much to read", changeWith(), { mostToRead: 100 }, { toRead: 101 }, ["load"]],
    ["not yet counted", changeWith(), { mostToRead: 100 }, { toRead: null }, ["load"]],
    ["little enough", changeWith(), { mostToRead: 100 }, { toRead: 100 }, []],
    [
      "a freeze",
      changeWith(),
      { freezes: [{ from: "2026-12-23T00:00:00Z", until: "2026-12-27T00:00:00Z", why: "Holidays" }] },
      {},
      ["freeze"],
    ],
    [
      "a freeze that is over",
      changeWith(),
      { freezes: [{ from: "2026-12-20T00:00:00Z", until: "2026-12-24T00:00:00Z", why: "Holidays" }] },
      {},
      [],
    ],
    ["a conflict", changeWith(), {}, { conflicts: ["a.ts"] }, ["conflicts"]],
    ["a draft", changeWith(["ada", "drafted", {}]), {}, {}, ["draft"]],
  ])("%s", (_, change, rule, more, keys) => {
    const missing = unmet(change, bare(rule), more);
    expect(missing.map(({ key }) => key)).toEqual(keys);
    for (const one of missing) {
      expect(one.says).toMatch(/^[^a-z].*\.$/s);
      expect(one.who).toMatch(/\.$/);
    }
  });

  it("is evaluated whole for a long story, many conditions and many files", () => {
    const paths = Array.from({ length: 500 }, (_, i) => `part${i % 50}/file${i}.ts`);
    const stewards = Array.from({ length: 44 }, (_, i) => ({ paths: `part${i}/**`, of: ["ben", "cy"], needed: 1 }));
    const story = Array.from({ length: 2_000 }, (_, i) =>
      i % 3 === 0 ? verdict("ben", "none") : check(`c${i % 40}`, "passed"),
    );
    const change = changeWith(...story, verdict("ben", "approve"));
    const rule = makeRule("main", { stewards, checks: ["c1", "c2"], workItem: true });
    const gate = evaluateGate(change, rule, { ...facts, paths });
    expect(gate.conditions.length).toBeGreaterThanOrEqual(50);
  });
});
