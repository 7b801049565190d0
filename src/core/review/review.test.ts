import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { LineAnchor } from "../anchor/anchor";
import { type GateFacts, NO_FACTS, reviewersIn } from "../rules/facts";
import { evaluateGate } from "../rules/gate";
import { makeRule } from "../rules/rule";
import { decide } from "./decide";
import { deskPlace } from "./desk";
import type { NewEvent, ReviewEvent } from "./events";
import { evolve, kindOf, replay, wrongShape } from "./evolve";
import { decideOpening, type Opening } from "./families/lifecycle";
import type { Command } from "./families/table";
import type { Role } from "./roles";
import type { Verdict } from "./shapes";
import { type ChangeSet, newest } from "./state";

const ROLE: Record<string, Role> = { ada: "contributor", ben: "contributor", cy: "keeper", rea: "reader" };
const rule = makeRule("main", { threads: false, tasks: false });
const facts: GateFacts = {
  ...NO_FACTS,
  people: Object.entries(ROLE).map(([id, role]) => ({ id, name: id, role, machine: false, owner: null })),
};
const commits = (n: number) => ({ head: `head${n}`, target: "target", base: "base" });

const anchor: LineAnchor = {
  kind: "lines",
  revision: 1,
  blob: "b",
  side: "new",
  path: "tide.py",
  start: 3,
  end: 3,
  text: ["x"],
};

const opening: Opening = {
  actor: { id: "ada", role: "contributor" },
  repository: "repo",
  number: 1,
  title: " Hold a berth ",
  description: "",
  source: "hold",
  target: "main",
  revision: commits(1),
  alreadyOpen: null,
};

/** A log as the application keeps it: every event follows from a decision. */
class Log {
  events: ReviewEvent[] = [];
  constructor() {
    const opened = decideOpening(opening);
    if (!opened.ok) throw new Error(opened.refusal.reason);
    this.append("ada", opened.value);
  }
  get change(): ChangeSet {
    return replay(this.events)!;
  }
  append(by: string, event: NewEvent) {
    const entry = {
      ...event,
      id: `e${this.events.length}`,
      stream: "c",
      version: 1,
      by,
      at: this.events.length,
    } as ReviewEvent;
    // Whatever is decided has the shape that its kind says, and can be told in words.
    expect(wrongShape(entry)).toBeNull();
    this.events.push(entry);
    const telling = { change: this.change, address: "http://lens", name: (id: string) => id };
    expect(kindOf(entry).says(entry, telling)).toMatch(/\S/);
  }
  /** Empty when it was done, else the reason it was not. */
  try(by: string, command: Command): string {
    const decision = decide(this.change, command, {
      actor: { id: by, role: ROLE[by] ?? null },
      rule,
      reviewers: reviewersIn(facts),
      gate: facts,
    });
    if (!decision.ok) return decision.refusal.reason;
    this.append(by, decision.value);
    return "";
  }
  review(by: string, verdict: Verdict, ...threads: string[]): string {
    const remarks = threads.map((thread) => ({ thread, comment: `${thread}-1`, anchor, body: "Why?" }));
    return this.try(by, { kind: "send-review", revision: newest(this.change).number, verdict, remark: "", remarks });
  }
  merge(by: string): string {
    return this.try(by, {
      kind: "merge",
      revision: newest(this.change).number,
      commit: "m",
      target: "t",
      message: "Merge",
    });
  }
}

describe("opening", () => {
  it("is refused with its reason, or gives r1", () => {
    const reason = (part: Partial<Opening>) => {
      const outcome = decideOpening({ ...opening, ...part });
      return outcome.ok ? "" : outcome.refusal.reason;
    };
    expect(reason({})).toBe("");
    expect(reason({ title: " " })).toMatch(/needs a title/);
    expect(reason({ target: "hold" })).toMatch(/offered to itself/);
    expect(reason({ alreadyOpen: 7 })).toMatch(/Change set 7 is already open/);
    expect(reason({ revision: { head: "x", target: "y", base: "x" } })).toMatch(/no difference/);
    expect(reason({ actor: { id: "rea", role: "reader" } })).toMatch(/Only contributors/);
    expect(new Log().change).toMatchObject({
      title: "Hold a berth",
      state: "open",
      author: "ada",
      revisions: [{ number: 1 }],
    });
  });
});

describe("a review", () => {
  it("asks for changes, is answered, settled, opened again and approved; then the gate is met and it merges", () => {
    const log = new Log();
    expect(log.review("ben", "request-changes", "t1")).toBe("");
    expect(log.merge("cy")).toMatch(/1 request for changes stands/);
    expect(log.try("ada", { kind: "reply", thread: "t1", comment: "k", body: "Done." })).toBe("");
    expect(log.try("ben", { kind: "resolve", thread: "t1" })).toBe("");
    expect(log.try("ada", { kind: "reopen", thread: "t1" })).toBe("");
    expect(log.try("ada", { kind: "reopen", thread: "t1" })).toMatch(/open already/);
    expect(log.review("ben", "approve")).toBe("");
    expect(log.merge("ben")).toMatch(/Only a keeper/);
    expect(log.merge("cy")).toBe("");
    expect(log.change).toMatchObject({ state: "merged", settled: { by: "cy", commit: "m" } });
    expect(log.merge("cy")).toMatch(/merged already/);
    expect(log.review("ben", "approve")).toMatch(/merged already/);
  });

  it("gives no verdict on one's own, none as a reader, none without a word, none on what is not newest", () => {
    const log = new Log();
    expect(log.review("ada", "approve")).toMatch(/your own change set/);
    expect(log.review("rea", "approve")).toMatch(/As a reader/);
    expect(log.review("nobody", "none", "t")).toMatch(/no such change set/);
    expect(log.review("ben", "none")).toMatch(/nothing to send/);
    expect(log.review("ben", "request-changes")).toMatch(/Say what should change/);
    expect(log.review("rea", "none", "t1")).toBe("");
    expect(log.try("ada", { kind: "revise", revision: commits(2) })).toBe("");
    const stale: Command = { kind: "send-review", revision: 1, verdict: "approve", remark: "", remarks: [] };
    expect(log.try("ben", stale)).toMatch(/r2 has come since/);
    expect(log.try("ada", { kind: "revise", revision: commits(2) })).toMatch(/has not moved/);
    expect(log.try("ben", { kind: "resolve", thread: "t1" })).toMatch(/Only the people in a thread/);
  });

  it("keeps an approval over a rebase that leaves the work as it was, and over nothing else", () => {
    const log = new Log();
    log.review("ben", "approve");
    log.try("ada", { kind: "revise", revision: commits(2), how: "rebased", same: true });
    expect(evaluateGate(log.change, rule, facts).open).toBe(true);
    expect(
      deskPlace(
        log.change,
        { id: "ben", role: "contributor" },
        { rule, gate: facts, name: (id) => id, histories: {}, fresh: null },
      ),
    ).toEqual({ waits: "them", reasons: ["The gate is met: it can be merged."] });
    log.try("ada", { kind: "revise", revision: commits(3), how: "rebased", same: true });
    expect(evaluateGate(log.change, rule, facts).open).toBe(true);
    log.try("ada", { kind: "revise", revision: commits(4), how: "forward", same: false });
    expect(evaluateGate(log.change, rule, facts).open).toBe(false);
  });

  it("makes an approval of an earlier revision outdated, and lets a request for changes stand", () => {
    const log = new Log();
    log.review("ben", "approve");
    expect(evaluateGate(log.change, rule, facts).open).toBe(true);
    log.try("ada", { kind: "revise", revision: commits(2) });
    const gate = evaluateGate(log.change, rule, facts);
    expect(gate.conditions[0]).toMatchObject({ met: false, people: [] });
    expect(gate.conditions[0].says).toBe("0 of 1 approval of r2. 1 approval of an earlier revision no longer counts.");
    log.review("cy", "request-changes", "t");
    log.try("ada", { kind: "revise", revision: commits(3) });
    expect(evaluateGate(log.change, rule, facts).conditions[1]).toMatchObject({ met: false, people: ["cy"] });
  });
});

describe("a thread", () => {
  const last = (log: Log) => log.change.threads[0].comments.at(-1)!;
  it("keeps what was said before an edit, a trace of what was deleted, and each word of agreement once", () => {
    const log = new Log();
    log.review("ben", "none", "t1");
    const ids = { thread: "t1", comment: "t1-1" };
    expect(log.try("ada", { kind: "edit", ...ids, body: "No." })).toMatch(/Only who wrote/);
    expect(log.try("ben", { kind: "edit", ...ids, body: "Why not?" })).toBe("");
    expect(last(log)).toMatchObject({ body: "Why not?", edits: [{ body: "Why?" }] });
    expect(log.try("ada", { kind: "react", ...ids, reaction: "agreed", on: true })).toBe("");
    expect(log.try("ada", { kind: "react", ...ids, reaction: "agreed", on: true })).toMatch(/said so already/);
    expect(last(log).reactions).toEqual({ agreed: ["ada"] });
    expect(log.try("rea", { kind: "erase", ...ids })).toMatch(/Only who wrote/);
    expect(log.try("ben", { kind: "erase", ...ids })).toBe("");
    expect(last(log)).toMatchObject({ body: "", edits: [], erased: { by: "ben" } });
    expect(log.try("ben", { kind: "edit", ...ids, body: "Back" })).toMatch(/was deleted/);
    expect(log.try("ben", { kind: "resolve", thread: "t1", comment: "k", body: "Settled by talking." })).toBe("");
    expect(last(log).body).toBe("Settled by talking.");
  });

  it("holds the gate shut until it is settled, unless it is an aside; so do tasks", () => {
    const log = new Log();
    const strict = makeRule("main", { approvals: { ...rule.approvals, count: 0 } });
    const unmet = () =>
      evaluateGate(log.change, strict, facts).conditions.flatMap(({ key, met }) => (met ? [] : [key]));
    const send = { kind: "send-review" as const, revision: 1, verdict: "none" as const, remark: "" };
    const remark = { thread: "t", comment: "c", anchor, body: "Hm.", weight: "aside" as const };
    const task = { task: "k1", body: "Tell the pilots", person: "ada" };
    expect(log.try("ben", { ...send, remarks: [remark], tasks: [task] })).toBe("");
    expect(unmet()).toEqual(["tasks"]);
    expect(log.try("ada", { kind: "weigh", thread: "t", weight: "settle" })).toMatch(/Only who wrote/);
    expect(log.try("ben", { kind: "weigh", thread: "t", weight: "settle" })).toBe("");
    expect(unmet()).toEqual(["threads", "tasks"]);
    expect(log.try("rea", { kind: "finish-task", task: "k1" })).toMatch(/Only who set a task/);
    expect(log.try("ada", { kind: "finish-task", task: "k1" })).toBe("");
    expect(log.try("ada", { kind: "finish-task", task: "k1" })).toMatch(/done already/);
    expect(log.try("ben", { kind: "resolve", thread: "t" })).toBe("");
    expect(unmet()).toEqual([]);
  });

  it("carries suggestions until they are taken, in the revision that took them", () => {
    const log = new Log();
    const suggestion = { id: "s1", start: 3, end: 3, was: ["x"], lines: ["y"] };
    const send = { kind: "send-review" as const, revision: 1, verdict: "none" as const, remark: "" };
    const remark = { thread: "t", comment: "c", anchor, body: "", suggestions: [suggestion] };
    expect(
      log.try("ben", { ...send, remarks: [{ ...remark, suggestions: [{ ...suggestion, lines: ["x"] }] }] }),
    ).toMatch(/changes nothing/);
    expect(log.try("ben", { ...send, remarks: [remark] })).toBe("");
    const better = [{ ...suggestion, lines: ["z"] }];
    expect(log.try("ben", { kind: "edit", thread: "t", comment: "c", body: "", suggestions: better })).toBe("");
    const take: Command = { kind: "take", revision: commits(2), taken: [{ thread: "t", suggestion: "s1" }] };
    expect(log.try("ben", take)).toMatch(/Only the author/);
    expect(log.try("ada", take)).toBe("");
    expect(log.change.threads[0]).toMatchObject({
      suggestions: [{ lines: ["z"], taken: { revision: 2, by: "ada" } }],
      resolved: { by: "ada", revision: 2 },
    });
    expect(log.try("ada", take)).toMatch(/taken in r2 already/);
    expect(log.try("ben", { kind: "edit", thread: "t", comment: "c", body: "", suggestions: better })).toMatch(
      /was taken/,
    );
  });
});

describe("reviewers", () => {
  it("are asked by the author, among those who can give a verdict, and can step back", () => {
    const log = new Log();
    const waits = (id: string) =>
      deskPlace(
        log.change,
        { id, role: ROLE[id] },
        { rule, gate: facts, name: (person) => person, histories: {}, fresh: null },
      );
    expect(log.try("ben", { kind: "ask", invited: [{ person: "cy" }] })).toMatch(/Only the author/);
    expect(log.try("ada", { kind: "ask", invited: [{ person: "rea" }] })).toMatch(/Only contributors/);
    expect(log.try("ada", { kind: "ask", invited: [{ person: "ada" }] })).toMatch(/cannot be asked/);
    expect(log.try("ada", { kind: "ask", invited: [{ person: "ben" }] })).toBe("");
    expect(log.try("ada", { kind: "ask", invited: [{ person: "ben" }] })).toMatch(/asked already/);
    expect(waits("ben").reasons).toEqual(["ada asks you to review it."]);
    // Who is not asked could help all the same.
    expect(waits("cy")).toEqual({ waits: "could", reasons: ["You could approve it. 0 of 1 approval of r1."] });
    expect(log.try("cy", { kind: "step-back" })).toMatch(/not asked/);
    expect(log.try("ben", { kind: "step-back" })).toBe("");
    expect(log.change.asked).toEqual([]);
  });

  it("are never machines", () => {
    const log = new Log();
    const approve: Command = { kind: "send-review", revision: 1, verdict: "approve", remark: "", remarks: [] };
    const robot = { actor: { id: "bot", role: "keeper" as const, machine: true }, rule, gate: facts };
    const decision = decide(log.change, approve, robot);
    expect(decision.ok ? "" : decision.refusal.reason).toMatch(/A machine account can remark/);
  });
});

describe("answers that go out with a review", () => {
  const send = (log: Log, by: string, ...replies: { thread: string; body: string; resolves?: boolean }[]) =>
    log.try(by, {
      ...{ kind: "send-review", revision: newest(log.change).number, verdict: "none", remark: "", remarks: [] },
      replies: replies.map((reply, i) => ({ ...reply, comment: `${by}-${log.events.length}-${i}` })),
    });

  it("are said in their threads, and resolve them where they should", () => {
    const log = new Log();
    log.review("ben", "none", "t1", "t2");
    expect(send(log, "ada", { thread: "t1", body: "It does." }, { thread: "t2", body: "Done.", resolves: true })).toBe(
      "",
    );
    const [first, second] = log.change.threads;
    expect(first.comments.map(({ by, body }) => `${by}: ${body}`)).toEqual(["ben: Why?", "ada: It does."]);
    expect(first.resolved).toBeNull();
    expect(second.resolved).toMatchObject({ by: "ada", revision: 1 });
    expect(log.change.reviews).toHaveLength(2);
  });

  it("are refused whole where one cannot be said", () => {
    const log = new Log();
    log.review("ben", "none", "t1");
    expect(send(log, "ada", { thread: "t1", body: "Fine." }, { thread: "nowhere", body: "?" })).toMatch(
      /no such thread/,
    );
    expect(send(log, "ada", { thread: "t1", body: "  " })).not.toBe("");
    expect(send(log, "cy", { thread: "t1", body: "I settle it.", resolves: true })).toBe("");
    expect(send(log, "rea", { thread: "t1", body: "Me too.", resolves: true })).toMatch(/Only the people in a thread/);
    expect(send(log, "ada")).toMatch(/nothing to send yet/);
  });
});

describe("the desk", () => {
  it("tells a steward that they are needed, also when there are approvals enough", () => {
    const log = new Log();
    log.review("ben", "approve");
    const guarded = { ...rule, stewards: [{ paths: "plan/**", of: ["cy"], needed: 1 }] };
    const place = (id: string, paths: string[]) =>
      deskPlace(
        log.change,
        { id, role: ROLE[id] },
        { rule: guarded, gate: { ...facts, paths }, name: (person) => person, histories: {}, fresh: null },
      ).reasons;
    expect(place("cy", ["plan/board.ts"])).toEqual([
      "It needs you as a steward: A steward of plan/** must agree: plan/board.ts.",
    ]);
    expect(place("cy", ["docs/holding.md"])).toEqual(["The gate is met: you could merge it."]);
    expect(place("ben", ["plan/board.ts"])).not.toContainEqual(expect.stringContaining("steward:"));
  });

  it("moves a change set between the two who wait for each other", () => {
    const log = new Log();
    const waits = (id: string) =>
      deskPlace(
        log.change,
        { id, role: ROLE[id] },
        { rule, gate: facts, name: (person) => person, histories: {}, fresh: null },
      ).waits;
    expect([waits("ada"), waits("ben"), waits("rea")]).toEqual(["them", "could", "none"]);
    log.review("ben", "request-changes", "t1");
    expect([waits("ada"), waits("ben")]).toEqual(["me", "them"]);
    log.try("ada", { kind: "revise", revision: commits(2) });
    log.try("ada", { kind: "reply", thread: "t1", comment: "k", body: "Done." });
    expect([waits("ada"), waits("ben")]).toEqual(["them", "me"]);
    log.try("ben", { kind: "resolve", thread: "t1" });
    log.review("ben", "approve");
    expect([waits("ada"), waits("ben"), waits("cy")]).toEqual(["me", "them", "could"]);
  });
});

describe("any order of commands", () => {
  const person = fc.constantFrom("ada", "ben", "cy", "rea", "nobody");
  const command: fc.Arbitrary<(log: Log, n: number) => [string, Command]> = fc
    .tuple(
      person,
      fc.constantFrom(
        "revise",
        "reply",
        "resolve",
        "reopen",
        "withdraw",
        "merge",
        "approve",
        "request-changes",
        "none",
      ),
      fc.nat(3),
    )
    .map(([by, kind, t]) => (log, n): [string, Command] => {
      const revision = newest(log.change).number;
      const thread = `t${t}`;
      switch (kind) {
        case "revise":
          return [by, { kind, revision: commits(n + 2) }];
        case "reply":
          return [by, { kind, thread, comment: `k${n}`, body: "So." }];
        case "resolve":
        case "reopen":
          return [by, { kind, thread }];
        case "withdraw":
          return [by, { kind }];
        case "merge":
          return [by, { kind, revision, commit: "m", target: "t", message: "Merge" }];
        default: {
          const remarks = log.change.threads.some(({ id }) => id === thread)
            ? []
            : [{ thread, comment: `${thread}c`, anchor, body: "Hm." }];
          return [by, { kind: "send-review", revision, verdict: kind as Verdict, remark: "", remarks }];
        }
      }
    });

  it("never merges without an approval of the newest revision by someone else, and nothing happens after the end", () => {
    fc.assert(
      fc.property(fc.array(command, { maxLength: 25 }), (commands) => {
        const log = new Log();
        for (const [n, make] of commands.entries()) {
          const before = log.change;
          const [by, what] = make(log, n);
          const refusal = log.try(by, what);
          if (refusal === "" && what.kind === "merge") {
            expect(evaluateGate(before, rule, facts).open).toBe(true);
            expect(
              before.reviews.some(
                (r) => r.verdict === "approve" && r.by !== "ada" && r.revision === newest(before).number,
              ),
            ).toBe(true);
          }
          if (before.state === "merged" && refusal === "") expect(["reply", "resolve", "reopen"]).toContain(what.kind);
          if (before.state === "withdrawn") expect(refusal).not.toBe("");
          if (ROLE[by] === undefined) expect(refusal).not.toBe("");
        }
      }),
    );
  });

  it("evolves one event at a time to what the whole log gives, and leaves earlier states as they were", () => {
    fc.assert(
      fc.property(fc.array(command, { maxLength: 15 }), (commands) => {
        const log = new Log();
        for (const [n, make] of commands.entries()) log.try(...make(log, n));
        let state: ChangeSet | null = null;
        for (const event of log.events) {
          const before = structuredClone(state);
          const next: ChangeSet = evolve(state, event);
          expect(state).toEqual(before);
          state = next;
        }
        expect(state).toEqual(log.change);
      }),
    );
  });

  it("writes over nobody’s words unseen, and keeps every earlier wording", () => {
    const log = new Log();
    const was = { title: log.change.title, description: "" };
    expect(log.try("ada", { kind: "describe", title: "Hold", description: "Why.", was })).toBe("");
    expect(log.try("cy", { kind: "describe", title: "Held", description: "", was })).toMatch(/while you were writing/);
    const now = { title: "Hold", description: "Why." };
    expect(log.try("cy", { kind: "describe", title: "Held", description: "", was: now })).toBe("");
    expect(log.change.wordings.map(({ title, by }) => [title, by])).toEqual([
      ["Hold a berth", "ada"],
      ["Hold", "ada"],
    ]);
    expect(log.change.describedBy).toBe("cy");
  });
});
